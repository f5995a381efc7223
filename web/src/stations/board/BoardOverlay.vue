<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed, ref } from 'vue'
import type { BoardKnife } from '@/api/schema'
import BladeSection from '@/drawings/BladeSection.vue'
import { extent, linePath, polygonPath, roundedPath } from '@/drawings/paths'
import RockDiagram from '@/drawings/RockDiagram.vue'
import ScaleBar from '@/drawings/ScaleBar.vue'
import TaperPlan from '@/drawings/TaperPlan.vue'
import DrawingLinks from '@/parts/DrawingLinks.vue'
import { rounded } from '@/parts/numbers'
import type { KnifeMark } from '@/parts/letters'

/** Outlines at true scale aligned at heel or tip, sections at the heel, and tapers, overlaid. */
const props = defineProps<{ knives: (BoardKnife & { style: KnifeMark })[] }>()

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
/** Edges on one board, height drawn twice as large than length. */
const RISE = 2
const edges = computed(() =>
  props.knives.map((k) => ({
    style: k.style,
    d: linePath(k.profile.edge.map(([x, y]) => [x ?? 0, (y ?? 0) * RISE])),
  })),
)
const edgeBox = computed(() => {
  const long = Math.max(...props.knives.map((k) => k.profile.length_mm))
  const tall = RISE * Math.max(...props.knives.map((k) => k.profile.tip_height_mm), 8)
  return `-4 ${-tall - 4} ${long + 8} ${tall + 10}`
})
const rocks = computed(() =>
  props.knives.map((k) => ({
    rock: k.profile.rock,
    length: k.profile.length_mm,
    style: k.style,
  })),
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
        <v-btn-toggle v-model="align" mandatory aria-label="Align outlines" class="no-print">
          <v-btn value="heel" height="26">heel</v-btn>
          <v-btn value="tip" height="26">tip</v-btn>
        </v-btn-toggle>
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
    <figure class="edges">
      <svg
        :viewBox="edgeBox"
        preserveAspectRatio="xMinYMax meet"
        role="img"
        aria-label="Edges on one board, aligned at the heel"
      >
        <line x1="-4" x2="2000" y1="0" y2="0" class="board" />
        <path
          v-for="edge in edges"
          :key="edge.style.letter"
          :d="edge.d"
          :stroke="edge.style.colour"
          :stroke-dasharray="edge.style.dash"
        />
      </svg>
      <figcaption class="soft small kinds">
        <span>Edges on the board, rise × {{ RISE }}</span>
        <span v-for="k in knives" :key="k.piece.id">
          <b :style="{ color: k.style.colour }">{{ k.style.letter }}</b>
          {{ labelOf('ProfileClass', k.profile.kind) }}, rocks
          {{ rounded(k.profile.rock_deg, 0) }}°<template v-if="k.profile.hollow"
            >, <span class="rust">⚠ hollow</span></template
          ><template v-if="k.profile.inferred">, inferred</template>
        </span>
      </figcaption>
    </figure>
    <figure class="rocking">
      <RockDiagram :lines="rocks" />
      <figcaption class="soft small">Where the edge touches as the handle comes up</figcaption>
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

.edges {
  grid-column: span 2;
}

.edges svg {
  display: block;
  width: 100%;
  max-height: 170px;
}

.board {
  stroke: var(--soft-ink);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.kinds {
  flex-wrap: wrap;
  gap: 2px 16px;
}

.outlines path,
.edges path {
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
  gap: 8px;
  align-items: center;
}

@media (max-width: 699px) {
  .overlay {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  }

  .outlines,
  .edges,
  .rocking {
    grid-column: 1 / -1;
  }
}
</style>
