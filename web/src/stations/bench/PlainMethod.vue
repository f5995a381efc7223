<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data, Problem } from '@/api/client'
import { newId } from '@/api/id'
import { decimalsFor, rounded, unitText } from '@/parts/numbers'

/** A quantity read without its instrument: what to do, what is read, and what follows from it. */
const props = defineProps<{ sheetId: number; quantity: string; instrument: string }>()
const emit = defineEmits<{ taken: [] }>()

const queries = useQueryClient()
const { catalogue } = useCatalogue()
const methods = computed(
  () => catalogue.value?.plain_methods.filter((m) => m.asked === props.quantity) ?? [],
)
const chosen = ref('')
const method = computed(() => methods.value.find((m) => m.key === chosen.value))
const typed = reactive<Record<string, string>>({})
watch([() => props.quantity, chosen], () => {
  for (const key of Object.keys(typed)) delete typed[key]
})
watch(
  () => props.quantity,
  () => (chosen.value = ''),
)

const given = computed(() => {
  const entries = (method.value?.needs ?? []).map(
    (need) => [need.key, Number((typed[need.key] ?? '').trim().replace(',', '.') || NaN)] as const,
  )
  return entries.every(([, value]) => Number.isFinite(value)) ? Object.fromEntries(entries) : null
})
const figure = useQuery({
  queryKey: computed(() => ['plain-method', chosen.value, given.value]),
  enabled: computed(() => !!method.value && given.value !== null),
  retry: false,
  queryFn: () =>
    data(
      api.POST('/api/bench/methods/{method}', {
        params: { path: { method: chosen.value } },
        body: { given: given.value ?? {} },
      }),
    ),
})
const doubt = ref('')
const take = useMutation({
  mutationFn: (confirmed: boolean) =>
    data(
      api.POST('/api/bench/sheets/{sheet_id}/methods/{method}', {
        params: { path: { sheet_id: props.sheetId, method: chosen.value } },
        body: { client_id: newId(), given: given.value ?? {}, confirmed },
      }),
    ),
  onMutate: () => (doubt.value = ''),
  onSuccess: () => {
    for (const key of Object.keys(typed)) delete typed[key]
    emit('taken')
  },
  onError: (error) => {
    if (error instanceof Problem && error.kind === 'unusual-value') doubt.value = error.message
  },
  onSettled: () => queries.invalidateQueries(),
})
const said = computed(() => {
  const found = figure.data.value
  if (!found || given.value === null) return ''
  const digits = decimalsFor(2 * found.expanded)
  const unit = unitText(found.unit)
  return `${rounded(found.value, digits)} ± ${rounded(found.expanded, digits)} ${unit}`
})
const wrong = computed(() => {
  const error = (given.value !== null && figure.error.value) || take.error.value
  if (!error || doubt.value) return ''
  return error instanceof Problem && error.errors[0] ? error.errors[0].message : error.message
})
</script>

<template>
  <section v-if="methods.length" class="plain-method small" aria-label="Without the instrument">
    <p class="soft">
      No {{ instrument }}?
      <button
        v-for="m in methods"
        :key="m.key"
        type="button"
        class="plain link"
        tabindex="-1"
        :aria-expanded="chosen === m.key"
        @click="chosen = chosen === m.key ? '' : m.key"
      >
        by {{ m.label }}
      </button>
    </p>
    <form v-if="method" @submit.prevent="take.mutate(false)">
      <p class="caution">⚠ {{ method.caution }}</p>
      <ol>
        <li v-for="step in method.steps" :key="step">{{ step }}</li>
      </ol>
      <p class="inputs">
        <label v-for="need in method.needs" :key="need.key">
          {{ need.label }}
          <span>
            <input
              v-model="typed[need.key]"
              inputmode="decimal"
              size="7"
              autocomplete="off"
              :aria-label="need.label"
            />
            {{ need.unit }}
          </span>
        </label>
      </p>
      <p class="found">
        <b v-if="said" class="grade-M">{{ said }}</b>
        <span v-else class="soft">The figure follows once everything is read.</span>
        <v-btn type="submit" :disabled="!said" :loading="take.isPending.value">
          Store this reading
        </v-btn>
        <v-btn v-if="doubt" @click="take.mutate(true)">Store, marked unusual</v-btn>
      </p>
      <p v-if="doubt" class="rust" role="alert">⚠ {{ doubt }}</p>
      <p v-if="wrong" class="rust" role="alert">⚠ {{ wrong }}</p>
    </form>
  </section>
</template>

<style scoped>
.plain-method p {
  margin: 0 0 6px;
}

.plain-method .link {
  margin-left: 8px;
}

form {
  border-left: 3px solid var(--hairline);
  padding-left: 12px;
}

ol {
  margin: 4px 0 8px;
  padding-left: 18px;
}

.caution {
  color: var(--rust);
}

.inputs,
.found {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: end;
}

.found {
  align-items: center;
  font-size: var(--size-m);
}

.inputs label {
  display: grid;
}
</style>
