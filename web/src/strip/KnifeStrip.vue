<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { StripKnife } from '@/api/schema'
import { extent, polygonPath, roundedPath } from '@/drawings/paths'
import { useHungKnives } from './knives'
import { mark } from '@/parts/letters'
import { useHand } from './store'
import { isTyping } from '@/parts/typing'
import { may } from '@/api/session'
import { kitchen } from '@/parts/kitchen'
import { asked } from '@/parts/profile'
import { aComparison, aReview, useWriting } from '@/parts/writing'

const hand = useHand()
const route = useRoute()
const router = useRouter()
const dragged = ref<number | null>(null)

const knives = useHungKnives()

watch(knives.data, (found) => {
  if (found && !knives.isPlaceholderData.value) hand.keep(found.map((k) => k.id))
})

const hung = computed(() =>
  hand.ids.flatMap((id, i) => {
    const knife = knives.data.value?.find((k) => k.id === id)
    return knife ? [{ knife, style: mark(i) }] : []
  }),
)

/** All silhouettes share one scale: the longest knife in hand fills its place. */
const longest = computed(() =>
  Math.max(
    260,
    ...hung.value.map(({ knife }) => extent(knife.outline).right - extent(knife.outline).left),
  ),
)

function box(knife: StripKnife): string {
  const { left, top } = extent(knife.outline)
  return `${left - 2} ${-top - 2} ${longest.value + 4} ${longest.value * 0.22}`
}

const writing = useWriting()
/** On the Board a comparison of what lies there, elsewhere a review of the knife selected. */
const compares = computed(() => route.path === '/board' && hand.ids.length > 1)
const about = computed(() => hand.current ?? hand.selected ?? hand.ids[0] ?? null)
function write(): void {
  if (writing.isPending.value || !may('advise')) return
  const { edge, basis } = kitchen
  if (compares.value)
    writing.mutate(
      aComparison({
        pieces: [...hand.ids],
        models: route.query.models === 'yes',
        profile: asked(),
        edge,
        basis,
      }),
    )
  else if (about.value !== null) writing.mutate(aReview(about.value))
}

function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
  const at = 'abcdef'.indexOf(event.key.toLowerCase())
  const id = hand.ids[at]
  if (at >= 0 && event.key.length === 1 && id !== undefined) hand.selected = id
  else if (event.key === 'Backspace' && hand.selected !== null && !route.path.startsWith('/bench/'))
    hand.takeOff(hand.selected)
  else if (event.key.toLowerCase() === 'w' && !route.path.startsWith('/bench/')) write()
}

function open(id: number): void {
  hand.selected = id
  if (route.path.startsWith('/sheet')) void router.push(`/sheet/${id}`)
}

onMounted(() => window.addEventListener('keydown', onKey))
onUnmounted(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <header class="strip on-strip no-print" aria-label="Knives in hand">
    <RouterLink to="/rack" class="name">Maple<br />Rook</RouterLink>
    <ol class="hung">
      <li
        v-for="({ knife, style }, i) in hung"
        :key="knife.id"
        class="knife"
        :class="{ selected: hand.selected === knife.id }"
        draggable="true"
        @dragstart="dragged = knife.id"
        @dragover.prevent
        @drop.prevent="dragged !== null && hand.move(dragged, i)"
      >
        <button
          type="button"
          class="plain pick"
          :title="knife.name"
          :aria-label="`${style.letter}: ${knife.name}`"
          :aria-pressed="hand.selected === knife.id"
          @click="open(knife.id)"
          @dblclick="router.push(`/sheet/${knife.id}`)"
          @keydown.left.stop="hand.move(knife.id, Math.max(0, i - 1))"
          @keydown.right.stop="hand.move(knife.id, i + 1)"
        >
          <span class="letter" :style="{ color: style.colour }">{{ style.letter }}</span>
          <svg :viewBox="box(knife)" aria-hidden="true">
            <path class="shape handle" :d="roundedPath(knife.outline.handle)" />
            <path
              class="shape"
              :d="polygonPath(knife.outline.blade)"
              :stroke="style.colour"
              :stroke-dasharray="style.dash"
            />
          </svg>
          <span class="tag">{{ knife.tag }}</span>
        </button>
        <button
          type="button"
          class="plain off"
          :aria-label="`Take ${knife.tag} off the strip`"
          @click="hand.takeOff(knife.id)"
        >
          ×
        </button>
      </li>
      <li v-if="!hung.length" class="none">
        Nothing in hand yet. Press “Hang” under a knife<span class="by-key"
          >, or point at it and press <kbd>H</kbd></span
        >.
      </li>
    </ol>
    <button
      v-if="hung.length"
      v-needs="'advise'"
      type="button"
      class="plain lay write"
      :title="compares ? 'Write a comparison of these knives (W)' : 'Write a review (W)'"
      @click="write"
    >
      Write
    </button>
    <RouterLink v-if="hand.ids.length > 1" to="/board" class="lay">Compare on the Board</RouterLink>
  </header>
</template>

<style scoped>
.strip {
  position: fixed;
  top: 0;
  left: 0;
  right: 0;
  height: 68px;
  z-index: 10;
  display: flex;
  align-items: stretch;
  gap: 12px;
  padding: 0 20px 0 0;
  color: var(--strip-ink);
  background: repeating-linear-gradient(0deg, var(--strip) 0 2px, var(--strip-line) 2px 3px);
  box-shadow: 0 1px 6px rgb(0 0 0 / 35%);
}

.name {
  width: 76px;
  display: grid;
  place-content: center;
  font-family: var(--serif);
  font-size: 16px;
  line-height: 1.05;
  color: var(--strip-ink);
  text-decoration: none;
}

.hung {
  display: flex;
  flex: 1;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
  overflow-x: auto;
  scrollbar-width: none;
}

.knife {
  position: relative;
  flex: 0 1 180px;
  min-width: 128px;
  border-radius: 3px;
}

.knife.selected {
  background: rgb(255 255 255 / 9%);
  box-shadow: inset 0 -2px 0 var(--strip-ink);
}

.pick {
  display: grid;
  grid-template: 1fr auto / auto 1fr;
  column-gap: 8px;
  width: 100%;
  height: 100%;
  padding: 6px 18px 4px 8px;
  align-items: center;
}

.letter {
  font-family: var(--serif);
  font-size: var(--size-l);
  font-weight: 600;
  line-height: 1;
}

svg {
  width: 100%;
  height: 36px;
  overflow: visible;
}

.shape {
  fill: rgb(233 226 212 / 12%);
  stroke-width: 1.5;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}

.handle {
  fill: rgb(233 226 212 / 28%);
}

.tag {
  grid-column: 2;
  font-size: 12px;
  color: var(--strip-soft);
}

.off {
  position: absolute;
  top: 2px;
  right: 2px;
  width: 22px;
  height: 22px;
  text-align: center;
  color: var(--strip-soft);
}

.off:hover {
  color: var(--strip-ink);
}

.none {
  align-self: center;
  color: var(--strip-soft);
}

.none kbd {
  background: none;
  color: var(--strip-ink);
  border-color: var(--strip-soft);
}

.lay {
  align-self: center;
  white-space: nowrap;
  color: var(--strip-ink);
  border: 1px solid var(--strip-soft);
  border-radius: 3px;
  padding: 5px 12px;
  text-decoration: none;
}

.lay:hover {
  background: rgb(255 255 255 / 10%);
}

@media (pointer: coarse), (max-width: 699px) {
  .by-key {
    display: none;
  }
}

@media (max-width: 999px) {
  .write {
    display: none;
  }
}

@media (max-width: 699px) {
  .strip {
    padding-right: 8px;
    gap: 4px;
  }

  .name {
    width: 56px;
    font-size: 13px;
  }

  .lay {
    font-size: var(--size-s);
    padding: 4px 6px;
    white-space: normal;
    max-width: 62px;
    text-align: center;
    line-height: 1.1;
  }
}
</style>
