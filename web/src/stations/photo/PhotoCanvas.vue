<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { addressOf } from '@/api/base'
import type { MeasuredOut, PhotoOut, PointsOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'
import { POINTS, type Pixel } from './measuring'

/**
 * The photo with what was found drawn on it. Points are dragged, or moved by arrow keys a pixel at
 * a time; a magnifier shows what lies under the one in hand.
 */
const props = defineProps<{
  photo: PhotoOut
  found: MeasuredOut | undefined
  known: { first?: Pixel; second?: Pixel } | null
  locked: boolean
  tall: boolean
}>()
const emit = defineEmits<{ moved: [points: Record<string, Pixel>]; pick: [at: Pixel] }>()

const MAGNIFIED_PX = 60
const SETTLE_MS = 350
const src = computed(() => addressOf(`/api/photos/${props.photo.id}/image`))
const svg = ref<SVGSVGElement | null>(null)
const whole = ref(false)
const points = ref<PointsOut | null>(null)
const held = ref('')
const dragging = ref(false)
let settling: ReturnType<typeof setTimeout> | undefined
/** Points changed since the last time they were told. */
const unsent = new Map<string, Pixel>()
watch(
  () => props.found?.points,
  (now) => {
    if (!dragging.value && !settling) points.value = now ? plain(now) : null
  },
  { immediate: true },
)
function plain<T>(of: T): T {
  return JSON.parse(JSON.stringify(of)) as T
}

/** The part of the photo shown: the blade with some air, or all of it. */
const box = computed(() => {
  const { width_px: width, height_px: height } = props.photo
  const line = props.found?.outline ?? []
  if (whole.value || !line.length || props.known) return { x: 0, y: 0, width, height }
  const xs = line.map((p) => p[0] ?? 0)
  const ys = line.map((p) => p[1] ?? 0)
  const air = 0.06 * Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys))
  const x = Math.max(0, Math.min(...xs) - air)
  const y = Math.max(0, Math.min(...ys) - 2 * air)
  return {
    x,
    y,
    width: Math.min(width, Math.max(...xs) + air) - x,
    height: Math.min(height, Math.max(...ys) + 2 * air) - y,
  }
})
/** Photo pixels to a pixel of the screen, so that points keep their size. */
const shownWidth = ref(800)
const unit = computed(() => box.value.width / Math.max(shownWidth.value, 1))
const watcher = new ResizeObserver(([entry]) => (shownWidth.value = entry!.contentRect.width))
onMounted(() => svg.value && watcher.observe(svg.value))
onUnmounted(() => watcher.disconnect())

const line = (of: number[][]) => of.map((p) => p.join(',')).join(' ')

interface Handle {
  id: string
  label: string
  at: Pixel
  small: boolean
}
const handles = computed<Handle[]>(() => {
  const now = points.value
  if (!now || props.known) return []
  const single = POINTS.filter((p) => now[p.key]).map((p) => ({
    id: p.key as string,
    label: p.label,
    at: now[p.key] as Pixel,
    small: false,
  }))
  const along = (['edge', 'spine'] as const).flatMap((of) =>
    now[of].map((at, i) => ({
      id: `${of}.${i}`,
      label: `${of}, place ${i + 1} of ${now[of].length}`,
      at: at as Pixel,
      small: true,
    })),
  )
  return [...along, ...single]
})
const inHand = computed(() => handles.value.find((h) => h.id === held.value))

function place(id: string, at: Pixel): void {
  const now = points.value
  if (!now) return
  const to = at.map((v) => Math.round(v * 10) / 10) as Pixel
  unsent.set(id, to)
  const [of, index] = id.split('.')
  if (index === undefined) now[of as 'heel'] = to
  else now[of as 'edge'][Number(index)] = to
}

function settle(): void {
  clearTimeout(settling)
  settling = setTimeout(() => {
    settling = undefined
    emit('moved', Object.fromEntries(unsent))
    unsent.clear()
  }, SETTLE_MS)
}

function under(event: PointerEvent): Pixel | null {
  const frame = svg.value?.getScreenCTM()
  if (!frame) return null
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(frame.inverse())
  return [at.x, at.y]
}

function take(event: PointerEvent, id: string): void {
  if (props.locked) return
  held.value = id
  dragging.value = true
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}

function drag(event: PointerEvent): void {
  const at = dragging.value ? under(event) : null
  if (at) place(held.value, at)
}

function drop(): void {
  if (!dragging.value) return
  dragging.value = false
  settle()
}

const STEPS: Record<string, Pixel> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
function onKey(event: KeyboardEvent, handle: Handle): void {
  const step = STEPS[event.key]
  if (!step || props.locked) return
  event.preventDefault()
  event.stopPropagation()
  const by = event.shiftKey ? 10 : 1
  place(handle.id, [handle.at[0] + by * step[0], handle.at[1] + by * step[1]])
  settle()
}

function click(event: PointerEvent): void {
  const at = props.known ? under(event) : null
  if (at) emit('pick', [Math.round(at[0]), Math.round(at[1])])
}
</script>

<template>
  <div class="canvas">
    <svg
      ref="svg"
      class="photo"
      :class="{ picking: known, tall }"
      :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`"
      :style="{ aspectRatio: `${box.width} / ${box.height}` }"
      role="group"
      aria-label="The photo, with the points that were found"
      @pointermove="drag"
      @pointerup="drop"
      @pointercancel="drop"
      @click="click($event as PointerEvent)"
    >
      <image :href="src" :width="photo.width_px" :height="photo.height_px" />
      <g class="lines" aria-hidden="true">
        <polyline v-if="found?.end" class="edge" :points="line(found.outline)" />
        <polyline v-if="found" class="spine" :points="line(found.spine)" />
        <polyline v-if="found" class="edge" :points="line(found.edge)" />
      </g>
      <g v-if="known" class="known" aria-hidden="true">
        <circle v-if="known.first" :cx="known.first[0]" :cy="known.first[1]" :r="6 * unit" />
        <circle v-if="known.second" :cx="known.second[0]" :cy="known.second[1]" :r="6 * unit" />
        <line
          v-if="known.first && known.second"
          :x1="known.first[0]"
          :y1="known.first[1]"
          :x2="known.second[0]"
          :y2="known.second[1]"
        />
      </g>
      <g
        v-for="h in handles"
        :key="h.id"
        class="handle"
        :class="{ small: h.small, held: h.id === held, fixed: locked }"
        :tabindex="locked ? -1 : 0"
        role="button"
        :aria-label="`${h.label}: arrow keys move it, with Shift ten pixels`"
        @pointerdown="take($event, h.id)"
        @keydown="onKey($event, h)"
        @focus="held = h.id"
      >
        <circle class="reach" :cx="h.at[0]" :cy="h.at[1]" :r="13 * unit" />
        <circle v-if="!h.small" class="ring under" :cx="h.at[0]" :cy="h.at[1]" :r="7 * unit" />
        <circle class="ring" :cx="h.at[0]" :cy="h.at[1]" :r="(h.small ? 4 : 7) * unit" />
        <path
          v-for="shade in h.small ? [] : [true, false]"
          :key="String(shade)"
          class="cross"
          :class="{ under: shade }"
          :d="`M${h.at[0] - 11 * unit} ${h.at[1]}h${8 * unit}m${6 * unit} 0h${8 * unit}M${h.at[0]} ${h.at[1] - 11 * unit}v${8 * unit}m0 ${6 * unit}v${8 * unit}`"
        />
      </g>
    </svg>
    <div class="foot">
      <button
        v-if="found?.outline.length && !known"
        type="button"
        class="plain link"
        @click="whole = !whole"
      >
        {{ whole ? 'the blade only' : 'the whole photo' }}
      </button>
      <p class="small soft words" role="status">
        <template v-if="inHand">
          <b class="ink">{{ inHand.label }}</b> at {{ rounded(inHand.at[0], 0) }},
          {{ rounded(inHand.at[1], 0) }} px · <kbd>←</kbd> <kbd>→</kbd> <kbd>↑</kbd> <kbd>↓</kbd> a
          pixel, <kbd>Shift</kbd> ten
        </template>
        <template v-else-if="known"
          >Click the two points in the photo, as far apart as you can.</template
        >
        <template v-else-if="handles.length">
          Drag a point, or reach it with <kbd>Tab</kbd> and move it with the arrow keys.
        </template>
      </p>
    </div>
    <svg
      v-if="inHand"
      class="magnifier"
      :class="{ left: inHand.at[0] > box.x + box.width / 2 }"
      :viewBox="`${inHand.at[0] - MAGNIFIED_PX / 2} ${inHand.at[1] - MAGNIFIED_PX / 2} ${MAGNIFIED_PX} ${MAGNIFIED_PX}`"
      aria-hidden="true"
    >
      <image :href="src" :width="photo.width_px" :height="photo.height_px" />
      <g class="lines">
        <polyline class="spine" :points="line(found?.spine ?? [])" />
        <polyline class="edge" :points="line(found?.edge ?? [])" />
      </g>
      <path
        class="hair"
        :d="`M${inHand.at[0] - 30} ${inHand.at[1]}h24m12 0h24M${inHand.at[0]} ${inHand.at[1] - 30}v24m0 12v24`"
      />
    </svg>
  </div>
</template>

<style scoped>
.canvas {
  position: relative;
}

.photo {
  display: block;
  width: 100%;
  max-height: 62vh;
  background: #3a3f44;
  border: 1px solid var(--hairline);
  touch-action: none;
}

.photo.tall {
  max-height: 46vh;
}

.photo.picking {
  cursor: crosshair;
}

.lines polyline {
  fill: none;
  stroke-width: 1.6;
  vector-effect: non-scaling-stroke;
  pointer-events: none;
}

.edge {
  stroke: #00e5d2;
}

.spine {
  stroke: #ffc53a;
  stroke-dasharray: 7 3;
}

.handle {
  cursor: grab;
  outline: none;
}

.handle.held {
  cursor: grabbing;
}

.handle.fixed {
  cursor: default;
}

.reach {
  fill: transparent;
}

.ring,
.cross {
  fill: none;
  stroke: #fff;
  stroke-width: 1.8;
  vector-effect: non-scaling-stroke;
}

.ring.under,
.cross.under {
  stroke: #14191f;
  stroke-width: 4.4;
}

.small .ring {
  fill: #fff;
  stroke: #14191f;
  stroke-width: 1.2;
}

.handle.held .ring:not(.under),
.handle:focus-visible .ring:not(.under) {
  stroke: #ff5a36;
  stroke-width: 3;
}

.known circle,
.known line {
  fill: none;
  stroke: #ff5a36;
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.foot {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 16px;
  padding-top: 6px;
}

.words {
  margin: 0;
}

.ink {
  color: var(--ink);
}

.magnifier {
  position: absolute;
  top: 10px;
  right: 10px;
  width: 168px;
  height: 168px;
  border: 2px solid var(--panel);
  border-radius: 50%;
  background: #3a3f44;
  image-rendering: pixelated;
  pointer-events: none;
}

.magnifier.left {
  right: auto;
  left: 10px;
}

.hair {
  stroke: #ff5a36;
  stroke-width: 1.4;
  vector-effect: non-scaling-stroke;
}

@media (max-width: 699px) {
  .magnifier {
    width: 120px;
    height: 120px;
  }
}
</style>
