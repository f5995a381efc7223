<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, data } from '@/api/client'
import type { GradeIn } from '@/api/schema'
import { rounded } from '@/parts/numbers'

/** A grade of the shop's own: its composition, and the carbides that follow from it. */
const props = defineProps<{ elements: string[] }>()
const emit = defineEmits<{ kept: [designation: string]; close: [] }>()

const queries = useQueryClient()
const form = reactive({ designation: '', aliases: '', low: '58', high: '61' })
const toughness = ref<GradeIn['toughness']>('medium')
const sharpening = ref<GradeIn['sharpening']>('medium')
const shares = reactive<Record<string, string>>({ C: '', Cr: '' })

const number = (text: string) => Number(text.trim().replace(',', '.') || NaN)
const composition = computed(() =>
  Object.fromEntries(
    props.elements
      .map((element) => [element, number(shares[element] ?? '')] as const)
      .filter(([, share]) => Number.isFinite(share) && share > 0),
  ),
)
const estimate = useQuery({
  queryKey: computed(() => ['carbides', composition.value]),
  enabled: computed(() => composition.value.C !== undefined),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(api.POST('/api/steels/estimate', { body: { composition: composition.value } })),
})
const keep = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/steels', {
        body: {
          designation: form.designation,
          aliases: form.aliases
            .split(',')
            .map((alias) => alias.trim())
            .filter(Boolean),
          composition: composition.value,
          usual_hrc: [number(form.low), number(form.high)],
          toughness: toughness.value,
          sharpening: sharpening.value,
        },
      }),
    ),
  onSuccess: (grade) => {
    void queries.invalidateQueries({ queryKey: ['steels'] })
    emit('kept', grade.designation)
  },
})
const ready = computed(
  () =>
    form.designation.trim() !== '' &&
    composition.value.C !== undefined &&
    Number.isFinite(number(form.low)) &&
    Number.isFinite(number(form.high)),
)
</script>

<template>
  <form v-needs="'measure'" aria-label="A grade of your own" @submit.prevent="keep.mutate()">
    <h2>A grade of your own</h2>
    <div class="fields">
      <v-text-field v-model="form.designation" label="Designation" maxlength="40" />
      <v-text-field v-model="form.aliases" label="The maker's names, with commas" />
      <v-text-field v-model="form.low" label="usual HRC, from" inputmode="decimal" />
      <v-text-field v-model="form.high" label="to" inputmode="decimal" />
      <v-select v-model="toughness" :items="['high', 'medium', 'low']" label="toughness" />
      <v-select
        v-model="sharpening"
        :items="['very easy', 'easy', 'medium', 'hard']"
        label="sharpening"
      />
    </div>
    <div class="shares" role="group" aria-label="Composition, mass per cent">
      <v-text-field
        v-for="element in elements"
        :key="element"
        v-model="shares[element]"
        :label="`${element} %`"
        inputmode="decimal"
      />
    </div>
    <p v-if="estimate.error.value" class="rust" role="alert">
      ⚠ {{ estimate.error.value.message }}
    </p>
    <p v-else-if="estimate.data.value" role="status">
      Carbides, {{ estimate.data.value.basis }}:
      <template v-if="estimate.data.value.carbides.length">
        <span v-for="c in estimate.data.value.carbides" :key="c.name" class="carbide">
          <b>{{ c.name }}</b> {{ rounded(c.volume, 0) }} ± {{ rounded(c.expanded, 0) }} %
        </span>
      </template>
      <template v-else>negligible.</template>
    </p>
    <p v-if="keep.error.value" class="rust" role="alert">⚠ {{ keep.error.value.message }}</p>
    <p class="buttons">
      <v-btn type="submit" color="primary" variant="flat" :disabled="!ready">Save</v-btn>
      <v-btn variant="text" @click="emit('close')">Cancel</v-btn>
    </p>
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 10px;
}

.shares {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(86px, 1fr));
  gap: 8px;
  margin: 10px 0;
}

.carbide {
  margin-right: 16px;
}
</style>
