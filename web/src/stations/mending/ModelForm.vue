<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data, Problem } from '@/api/client'
import type { components } from '@/api/schema'
import NamedField from '@/parts/NamedField.vue'
import { changed, isChanged, typedOf, type ModelTyped } from './mending'

/** One model: what it is called, made of and sold for, and what is printed of it. */
const props = defineProps<{
  modelId: number
  others: components['schemas']['MendableModel'][]
  makers: string[]
}>()
const emit = defineEmits<{ merged: [into: number] }>()

const queries = useQueryClient()
const { catalogue, quantities } = useCatalogue()
const model = useQuery({
  queryKey: computed(() => ['model', props.modelId]),
  queryFn: () =>
    data(
      api.GET('/api/mending/models/{model_id}', { params: { path: { model_id: props.modelId } } }),
    ),
})
const start = useQuery({ queryKey: ['bench'], queryFn: () => data(api.GET('/api/bench')) })

const typed = ref<ModelTyped | null>(null)
const reason = ref('')
watch(
  () => model.data.value,
  (now) => (typed.value = now ? typedOf(now) : null),
  { immediate: true },
)

const types = computed(() =>
  (catalogue.value?.knife_types ?? []).map((t) => ({ value: t.key, title: t.label })),
)
const grinds = computed(() =>
  (catalogue.value?.grinds ?? []).map((g) => ({ value: g.key, title: g.label })),
)
const steels = computed(() =>
  (start.data.value?.steels ?? []).map((s) => ({
    value: s.designation,
    title: s.designation,
    subtitle: s.names.join(', '),
    names: s.names,
  })),
)
const claimable = computed(() =>
  [...quantities.value.values()].filter((q) => q.claim_tolerance !== null),
)

const change = computed(() =>
  model.data.value && typed.value ? changed(model.data.value, typed.value, reason.value) : null,
)
const here = () => ({ path: { model_id: props.modelId } })
const settled = { onSettled: () => queries.invalidateQueries() }
const save = useMutation({
  mutationFn: (body: components['schemas']['ModelChange']) =>
    data(
      api.PATCH('/api/mending/models/{model_id}', {
        params: { ...here(), header: { 'If-Match': model.data.value?.etag ?? '' } },
        body,
      }),
    ),
  onSuccess: () => (reason.value = ''),
  ...settled,
})
const into = ref<number | null>(null)
const merge = useMutation({
  mutationFn: (target: number) =>
    data(
      api.POST('/api/mending/models/{model_id}/merge', {
        params: here(),
        body: { into: target, reason: reason.value.trim() },
      }),
    ).then(() => target),
  onSuccess: (target) => emit('merged', target),
  ...settled,
})
const targets = computed(() =>
  props.others
    .filter((m) => m.id !== props.modelId)
    .map((m) => ({ value: m.id, title: m.name, subtitle: `${m.pieces} pieces` })),
)
const wrong = computed(() => save.error.value ?? merge.error.value)
const detail = computed(() =>
  wrong.value instanceof Problem && wrong.value.errors[0]
    ? wrong.value.errors[0].message
    : wrong.value?.message,
)
</script>

<template>
  <form
    v-if="typed && model.data.value"
    :aria-label="`Model ${model.data.value.line}`"
    @submit.prevent="change && save.mutate(change)"
  >
    <p class="soft small">
      {{ model.data.value.tags.length }}
      {{ model.data.value.tags.length === 1 ? 'piece' : 'pieces' }}:
      {{ model.data.value.tags.join(', ') || 'none' }}. A change holds for all of them.
    </p>
    <div class="fields">
      <v-combobox v-model="typed.maker" :items="makers" label="Maker" maxlength="80" />
      <v-text-field v-model="typed.line" label="Line" maxlength="80" />
      <NamedField v-model="typed.knife_type" :items="types" label="Type" />
      <v-text-field v-model="typed.nominal" label="Nominal size" maxlength="64" />
      <NamedField v-model="typed.grind" :items="grinds" label="Grind" />
      <NamedField
        v-model="typed.steel"
        :items="steels"
        label="Steel, if known"
        unknown="Not among the shop’s grades: enter it under Steels first."
      />
      <v-text-field v-model="typed.construction" label="Construction" maxlength="80" />
      <v-text-field v-model="typed.finish" label="Finish" maxlength="120" />
      <v-text-field v-model="typed.handle" label="Handle" maxlength="120" />
      <v-text-field
        v-model="typed.price"
        :label="catalogue?.currency ? `Price, ${catalogue.currency}` : 'Price'"
        inputmode="decimal"
        maxlength="12"
      />
      <v-text-field
        v-model="typed.gtin"
        label="Bar code (GTIN), if any"
        inputmode="numeric"
        maxlength="20"
      />
    </div>
    <v-checkbox
      v-model="typed.even_machine_edge"
      label="The edge left the factory ground even, by machine"
    />
    <h2>What is printed of it</h2>
    <p v-for="(claim, i) in typed.claims" :key="i" class="claim">
      <select v-model="claim.quantity" :aria-label="`Quantity of claim ${i + 1}`">
        <option v-for="q in claimable" :key="q.key" :value="q.key">{{ q.label }}</option>
      </select>
      <input v-model="claim.printed" :aria-label="`Claim ${i + 1}, as printed`" maxlength="64" />
      <button type="button" class="plain link" @click="typed.claims.splice(i, 1)">remove</button>
    </p>
    <button
      type="button"
      class="plain link"
      @click="typed.claims.push({ quantity: 'hardness', printed: '' })"
    >
      add a claim
    </button>
    <v-text-field v-model="reason" label="Why, if you like" maxlength="200" class="reason" />
    <p v-if="wrong" class="rust" role="alert"><b>⚠ Nothing was changed.</b> {{ detail }}</p>
    <p class="buttons">
      <v-btn
        type="submit"
        color="primary"
        variant="flat"
        :disabled="!change || !isChanged(change)"
        :loading="save.isPending.value"
      >
        Save the change
      </v-btn>
      <v-btn @click="save.mutate({ retired: !model.data.value.retired, reason })">
        {{ model.data.value.retired ? 'Restore this model' : 'Retire this model' }}
      </v-btn>
      <span v-if="model.data.value.retired" class="soft">Retired: not offered for new pieces.</span>
    </p>
    <details>
      <summary>It was entered twice: merge it into another</summary>
      <div class="merge">
        <NamedField v-model="into" :items="targets" label="The model that stays" />
        <v-btn
          :disabled="into === null"
          :loading="merge.isPending.value"
          @click="into !== null && merge.mutate(Number(into))"
        >
          Merge
        </v-btn>
      </div>
      <p class="soft small">
        Its pieces and any claims the other lacks are moved over. This can be undone below.
      </p>
    </details>
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  margin: 10px 0;
}

h2 {
  font-size: var(--size-m);
  margin: 8px 0 4px;
}

.claim {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 0 0 6px;
}

.reason {
  margin-top: 12px;
}

.merge {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 10px 0;
}

.merge > :first-child {
  flex: 1 1 260px;
}

@media (max-width: 699px) {
  .fields {
    grid-template-columns: 1fr;
  }
}
</style>
