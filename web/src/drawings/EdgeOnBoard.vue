<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import type { OutlineOut, ProfileOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'
import KnifeShape from './KnifeShape.vue'
import { contactAt, extent, linePath, rockedBy } from './paths'

/** The knife on a flat board. Drag the handle, or the slider: the contact runs along the edge. */
const props = defineProps<{ outline: OutlineOut; profile: ProfileOut }>()

const raise = ref(0)
const dragging = ref(false)
const svg = ref<SVGSVGElement | null>(null)

watch(
  () => props.profile.rock_deg,
  () => (raise.value = 0),
)

const around = computed(() => extent(props.outline))
const size = computed(() => Math.max(5, props.outline.overall_length_mm / 48))
const box = computed(() => {
  const { left, right, top } = around.value
  const high = top + props.profile.butt_rise_mm + 2
  return `${left - 8} ${-high} ${right - left + 20} ${high + size.value * 4.2}`
})
const contact = computed(() => contactAt(props.profile.rock, raise.value))
const turned = computed(() => rockedBy(contact.value, raise.value))
const digsIn = computed(() => raise.value >= props.profile.rock_deg - 0.05)

const spans = computed(() =>
  (
    [
      ['within 1 mm', props.profile.chopping],
      ['flat, within 0.3 mm', props.profile.flat],
    ] as const
  )
    .map(([key, [from = 0, to = 0]], row) => ({ key, from, to, row }))
    .filter((s) => s.to - s.from > 1),
)
const hollow = computed(() => {
  const found = props.profile.hollow
  if (!found) return ''
  const inside = props.profile.edge.filter(
    ([x]) => (x ?? 0) >= found.from_mm && (x ?? 0) <= found.to_mm,
  )
  return inside.length > 1 ? linePath(inside) : ''
})

/** The raise that puts the handle's end where the pointer is. */
function follow(event: PointerEvent): void {
  const drawing = svg.value
  const frame = drawing?.getScreenCTM()
  if (!dragging.value || !drawing || !frame) return
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(frame.inverse())
  const [cx, cy] = contact.value
  const handle = Math.atan2(around.value.top * 0.7 - cy, cx - around.value.left)
  const pointer = Math.atan2(-at.y - cy, cx - at.x)
  turnTo(((pointer - handle) * 180) / Math.PI)
}

function turnTo(degrees: number): void {
  raise.value = Math.min(props.profile.rock_deg, Math.max(0, degrees))
}

function let_go(): void {
  dragging.value = false
}

function take(event: PointerEvent): void {
  dragging.value = true
  follow(event)
}

window.addEventListener('pointerup', let_go)
onUnmounted(() => window.removeEventListener('pointerup', let_go))
</script>

<template>
  <figure class="on-board">
    <svg
      ref="svg"
      :viewBox="box"
      role="img"
      aria-label="The knife on the board; drag the handle to rock it"
      @pointermove="follow"
    >
      <line :x1="around.left - 8" :x2="around.right + 12" y1="0" y2="0" class="board" />
      <g :transform="turned" :class="{ dragging }" class="knife" @pointerdown.prevent="take">
        <KnifeShape :outline="outline" />
        <path :d="linePath(profile.edge)" class="edge" />
        <path v-if="hollow" :d="hollow" class="hollow" />
      </g>
      <g v-if="raise < 0.05" class="spans">
        <g v-for="s in spans" :key="s.key">
          <line
            :x1="s.from"
            :x2="s.to"
            :y1="size * (1.1 + 1.5 * s.row)"
            :y2="size * (1.1 + 1.5 * s.row)"
          />
          <text :x="s.to + size * 0.5" :y="size * (1.45 + 1.5 * s.row)" :font-size="size * 0.95">
            {{ s.key }}: {{ rounded(s.to - s.from, 0) }} mm
          </text>
        </g>
      </g>
      <path
        :d="`M${contact[0]} 0l${size * 0.55} ${size}h${-size * 1.1}z`"
        class="contact"
        :class="{ rust: digsIn }"
      />
      <text
        v-if="raise >= 0.05"
        class="contact-text"
        :x="contact[0]"
        :y="size * 2.4"
        :font-size="size"
        text-anchor="middle"
      >
        {{ rounded(contact[0], 0) }} mm from the heel
      </text>
    </svg>
    <figcaption class="small">
      <label class="raise">
        <span class="soft">Handle raised</span>
        <input
          type="range"
          min="0"
          :max="profile.rock_deg"
          step="0.1"
          :value="raise"
          aria-label="Handle raised, degrees"
          @input="turnTo(Number(($event.target as HTMLInputElement).value))"
        />
        <b>{{ rounded(raise, 1) }}°</b>
      </label>
      <span :class="digsIn ? 'rust' : 'soft'" role="status">
        {{
          digsIn
            ? '⚠ the tip digs in'
            : `touches ${rounded(contact[0], 0)} mm from the heel; the tip digs in at ${rounded(profile.rock_deg, 0)}°`
        }}
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
.on-board {
  margin: 0;
}

svg {
  display: block;
  width: 100%;
  max-height: 340px;
  touch-action: none;
}

.knife {
  cursor: grab;
}

.knife.dragging {
  cursor: grabbing;
}

.board {
  stroke: var(--soft-ink);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.edge {
  fill: none;
  stroke: var(--measured);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.hollow {
  fill: none;
  stroke: var(--rust);
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}

.spans line {
  stroke: var(--derived);
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}

text {
  fill: var(--ink);
  font-family: var(--sans);
}

.contact {
  fill: var(--derived);
}

.contact.rust {
  fill: var(--rust);
}

figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: center;
}

.raise {
  display: flex;
  align-items: center;
  gap: 8px;
}

.raise b {
  min-width: 4ch;
}

input[type='range'] {
  width: 220px;
  accent-color: var(--soft-ink);
}
</style>
