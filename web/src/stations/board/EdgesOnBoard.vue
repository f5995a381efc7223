<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed } from 'vue'
import type { BoardKnife } from '@/api/schema'
import { linePath } from '@/drawings/paths'
import RockDiagram from '@/drawings/RockDiagram.vue'
import type { KnifeMark } from '@/parts/letters'

/** Edges laid on one board, and where each touches as the handle comes up. */
const props = defineProps<{ knives: (BoardKnife & { style: KnifeMark })[] }>()

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
</script>

<template>
  <div class="motion">
    <figure>
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
          {{ labelOf('ProfileClass', k.profile.kind) }}, {{ labelOf('Rocking', k.profile.rocking)
          }}<template v-if="k.profile.hollow">, <span class="rust">⚠ hollow</span></template
          ><template v-if="k.profile.inferred">, usual of its type</template>
        </span>
      </figcaption>
    </figure>
    <figure>
      <RockDiagram :lines="rocks" />
      <figcaption class="soft small">Where the edge touches as the handle comes up</figcaption>
    </figure>
  </div>
</template>

<style scoped>
.motion {
  display: grid;
  gap: 16px;
  margin-top: 16px;
}

figure {
  margin: 0;
}

svg {
  display: block;
  width: 100%;
  max-height: 170px;
}

.board {
  stroke: var(--soft-ink);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

path {
  fill: none;
  stroke-width: 1.6;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}

.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
}
</style>
