<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import { kitchen } from '@/parts/kitchen'
import { rounded } from '@/parts/numbers'

/** One cut, part by part: parting, opening, wedging, friction and sticking against depth. */
const PartsChart = defineAsyncComponent(() => import('./PartsChart.vue'))
const props = defineProps<{ pieceId: number }>()

const { catalogue } = useCatalogue()
const food = ref('carrot')
const ratio = ref(0)
const foods = computed(
  () => catalogue.value?.foods.map((f) => ({ value: f.key, title: f.label })) ?? [],
)
const chosen = computed(() =>
  foods.value.some((f) => f.value === food.value) ? food.value : (foods.value[0]?.value ?? ''),
)
const cut = useQuery({
  queryKey: computed(() => ['cut', props.pieceId, chosen.value, ratio.value, { ...kitchen }]),
  enabled: computed(() => chosen.value !== ''),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/cut', {
        params: {
          path: { piece_id: props.pieceId },
          query: { ...kitchen, food: chosen.value, ratio: ratio.value },
        },
      }),
    ),
})
const last = (row: number[]) => row[row.length - 1] ?? 0
const along = computed(() => (cut.data.value ? last(cut.data.value.along_n) : 0))
const side = computed(() => (cut.data.value ? last(cut.data.value.side_n) : 0))
</script>

<template>
  <section class="cut" aria-label="One cut, part by part">
    <h3>One cut, part by part</h3>
    <div class="chosen no-print">
      <v-select
        :model-value="chosen"
        :items="foods"
        label="food"
        @update:model-value="(to: string) => (food = to)"
      />
      <label class="ratio small">
        <span class="soft">slice to push</span>
        <input
          v-model.number="ratio"
          type="range"
          min="0"
          max="4"
          step="0.1"
          aria-label="Ratio of slice to push"
        />
        <b>{{ rounded(ratio, 1) }}</b>
      </label>
    </div>
    <p v-if="cut.error.value" class="soft">{{ cut.error.value.message }}</p>
    <template v-else-if="cut.data.value">
      <PartsChart :cut="cut.data.value" />
      <p class="small numbers">
        bite <b>{{ rounded(cut.data.value.bite_n, 1) }} N</b> at 3 mm · peak
        <b>{{ rounded(cut.data.value.peak_n, 1) }} N</b> · work
        <b>{{ rounded(cut.data.value.work_j, 2) }} J</b> · along the edge
        <b>{{ rounded(along, 1) }} N</b> · to the side <b>{{ rounded(Math.abs(side), 1) }} N</b>,
        {{ cut.data.value.side_words }}.
        <span class="soft">Central values along the edge, through the middle of the food.</span>
        <span v-if="cut.data.value.passes"> {{ cut.data.value.passes }}.</span>
      </p>
    </template>
  </section>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
  font-size: var(--size-m);
}

.chosen {
  display: flex;
  gap: 16px;
  align-items: center;
}

.chosen > .v-input {
  max-width: 190px;
}

.ratio {
  display: flex;
  align-items: center;
  gap: 8px;
}

.ratio b {
  min-width: 3ch;
}

input[type='range'] {
  width: 150px;
  accent-color: var(--soft-ink);
}

.numbers {
  margin: 2px 0 0;
}
</style>
