<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BoardKnife } from '@/api/schema'
import BladeSection from '@/drawings/BladeSection.vue'
import { extent, polygonPath, roundedPath } from '@/drawings/paths'
import ScaleBar from '@/drawings/ScaleBar.vue'
import TaperPlan from '@/drawings/TaperPlan.vue'
import DrawingLinks from '@/parts/DrawingLinks.vue'
import type { KnifeMark } from '@/parts/letters'
import WordSwitch from '@/parts/WordSwitch.vue'

/** Outlines at true scale aligned at heel or tip, sections at the heel, and tapers, overlaid. */
const props = defineProps<{ knives: (BoardKnife & { style: KnifeMark })[] }>()

const ENDS = [
  ['heel', 'heel'],
  ['tip', 'tip'],
] as const
const align = ref<'heel' | 'tip'>('heel')
const placed = computed(() =>
  props.knives.map((knife) => ({
    ...knife,
    shift: align.value === 'heel' ? 0 : -knife.outline.edge_length_mm,
  })),
)
const box = computed(() => {
  const ends = placed.value.map((k) => ({ ...extent(k.outline), shift: k.shift }))
  const left = Math.min(...ends.map((e) => e.left + e.shift)) - 4
  const right = Math.max(...ends.map((e) => e.right + e.shift)) + 4
  const top = Math.max(...ends.map((e) => e.top)) + 4
  const bottom = Math.min(0, ...ends.map((e) => e.bottom)) - 16
  return { left, bottom, text: `${left} ${-top} ${right - left} ${top - bottom}` }
})
const sections = computed(() =>
  props.knives.flatMap((k) => (k.section ? [{ polygon: k.section, style: k.style }] : [])),
)
const tapers = computed(() =>
  props.knives.flatMap((k) =>
    k.outline.taper.length > 1
      ? [{ stations: k.outline.taper, length: k.outline.edge_length_mm, style: k.style }]
      : [],
  ),
)
</script>

<template>
  <div class="overlay">
    <figure class="outlines">
      <svg :viewBox="box.text" role="img" aria-label="Outlines laid over each other at true scale">
        <g v-for="knife in placed" :key="knife.piece.id" :transform="`translate(${knife.shift} 0)`">
          <path
            :d="polygonPath(knife.outline.blade)"
            :stroke="knife.style.colour"
            :stroke-dasharray="knife.style.dash"
          />
          <path
            class="handle"
            :d="roundedPath(knife.outline.handle)"
            :stroke="knife.style.colour"
            :stroke-dasharray="knife.style.dash"
          />
        </g>
        <ScaleBar :x="box.left + 4" :y="-box.bottom - 2" :length="50" :size="8" />
      </svg>
      <figcaption class="soft small">
        Outlines aligned at the
        <WordSwitch v-model="align" legend="Align outlines" :choices="ENDS" class="no-print" />
        <DrawingLinks :pieces="knives.map((k) => k.piece.id)" />
      </figcaption>
    </figure>
    <figure>
      <BladeSection v-if="sections.length" :sections="sections" />
      <p v-else class="soft small">No section is measured or covered yet.</p>
      <figcaption class="soft small">Sections at the heel, thickness × 4</figcaption>
    </figure>
    <figure>
      <TaperPlan v-if="tapers.length" :tapers="tapers" />
      <p v-else class="soft small">No taper is measured yet.</p>
      <figcaption class="soft small">Spines from above, thickness × 12</figcaption>
    </figure>
  </div>
</template>

<style scoped>
.overlay {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 1.6fr) minmax(0, 2.4fr);
  gap: 24px;
  align-items: end;
}

figure {
  margin: 0;
}

.outlines svg {
  display: block;
  width: 100%;
  max-height: 220px;
}

.outlines path {
  fill: none;
  stroke-width: 1.6;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}

.outlines .handle {
  opacity: 0.55;
}

figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}

@media (max-width: 699px) {
  .overlay {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  }

  .outlines {
    grid-column: 1 / -1;
  }
}
</style>
