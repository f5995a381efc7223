<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { BenchSheetOut } from '@/api/schema'
import BladeElevation from '@/drawings/BladeElevation.vue'
import BladeSection from '@/drawings/BladeSection.vue'
import TaperPlan from '@/drawings/TaperPlan.vue'

/** The blade as it is measured: outline, section, taper; what is not measured comes from the type. */
const props = defineProps<{ sheet: BenchSheetOut; lit: string }>()

const { grindOf, typeLabel } = useCatalogue()
/** What the section shows that nobody has read yet. */
const guessed = computed(() => {
  const behind = grindOf(props.sheet.piece.grind)?.behind_edge_asked
  const wanted: [string, string][] = [
    ...(behind ? ([['thickness_behind_edge', 'behind the edge']] as [string, string][]) : []),
    ['edge_angle', 'edge angle'],
  ]
  return wanted.filter(([key]) => !props.sheet.figures[key]).map(([, label]) => label)
})
const assumed = computed(() => props.sheet.outline.assumed)
</script>

<template>
  <div>
    <h2 class="small soft">Growing as measured</h2>
    <BladeElevation :outline="sheet.outline" :figures="sheet.figures" :lit="lit" />
    <p v-if="assumed.length" class="soft small">
      Drawn from the {{ typeLabel(sheet.piece.knife_type) }} type: {{ assumed.join(', ') }}.
    </p>
    <div class="pair">
      <figure>
        <BladeSection v-if="sheet.section" :sections="[{ polygon: sheet.section }]" />
        <p v-else class="soft small none">Once spine and height at the heel are read.</p>
        <figcaption class="soft small">
          Section at the heel, thickness × 4<template v-if="sheet.section && guessed.length"
            >; {{ guessed.join(' and ') }} inferred from the type</template
          >
        </figcaption>
      </figure>
      <figure>
        <TaperPlan
          v-if="sheet.outline.taper.length > 1"
          :tapers="[{ stations: sheet.outline.taper, length: sheet.outline.edge_length_mm }]"
        />
        <p v-else class="soft small none">With the second spine reading.</p>
        <figcaption class="soft small">Spine from above, thickness × 12</figcaption>
      </figure>
    </div>
  </div>
</template>

<style scoped>
h2 {
  border: 0;
  padding: 0;
  font-size: var(--size-s);
  font-family: var(--sans);
  font-weight: 500;
  margin-bottom: 4px;
}

.pair {
  display: grid;
  grid-template-columns: 1fr 1.6fr;
  gap: 16px;
  align-items: end;
}

figure {
  margin: 0;
}

.none {
  min-height: 80px;
}
</style>
