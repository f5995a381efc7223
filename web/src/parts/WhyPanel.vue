<script setup lang="ts">
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { labelOf, useCatalogue } from '@/api/catalogue'
import { kitchen } from './kitchen'
import { intervalOf, likelyText, rangeText, unitText } from './numbers'
import { useWhy } from './why'

/** Why this number: inputs, equation, source, grade, interval, shares, what to measure next. */
const why = useWhy()
const { catalogue } = useCatalogue()
const closer = ref<HTMLButtonElement | null>(null)
let opener: Element | null = null

const prediction = computed(() => why.prediction)
const card = computed(() => catalogue.value?.cards[prediction.value?.card ?? ''])
const interval = computed(() => (prediction.value ? intervalOf(prediction.value) : null))
const explained = computed(() =>
  (prediction.value?.contributions ?? []).reduce((sum, c) => sum + c.share, 0),
)

watch(prediction, async (now, before) => {
  if (now && !before) {
    opener = document.activeElement
    await nextTick()
    closer.value?.focus()
  } else if (!now && opener instanceof HTMLElement) {
    opener.focus()
  }
})

function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') why.close()
}
onMounted(() => window.addEventListener('keydown', onKey))
onUnmounted(() => {
  window.removeEventListener('keydown', onKey)
  why.close()
})
</script>

<template>
  <aside v-if="prediction && card" class="why no-print" role="dialog" aria-label="Why this number">
    <button ref="closer" type="button" class="plain close soft" @click="why.close">
      close <kbd>Esc</kbd>
    </button>
    <p class="soft small kicker">Why this number</p>
    <h2>{{ prediction.label }}</h2>
    <p class="soft">{{ why.knife }}</p>

    <p v-if="interval" class="figure" :class="`grade-${card.grade}`">
      {{ rangeText(interval) }} <span class="unit">{{ unitText(card.unit) }}</span>
      <span class="likely">likely {{ likelyText(interval) }}</span>
    </p>
    <p v-else class="rust">{{ prediction.unavailable }}</p>
    <p class="small">
      <b :class="`grade-${card.grade}`">{{ card.grade }}</b> {{ card.grade_label }}; the interval
      holds 90 % of the draws.
    </p>
    <ul v-if="prediction.notes.length" class="notes">
      <li v-for="note in prediction.notes" :key="note">{{ note }}</li>
    </ul>

    <h3>Equation</h3>
    <p class="equation">{{ card.equation }}</p>

    <p v-if="/^(days|months)_to_/.test(card.key)" class="small">
      Kitchen: {{ kitchen.use }} use, {{ labelOf('BoardMaterial', kitchen.board) }},
      {{ labelOf('Technique', kitchen.technique) }} technique,
      {{ kitchen.honed ? 'honed regularly' : 'never honed' }}.
    </p>
    <p v-if="card.predicted?.calibrated" class="small">
      Computed {{ kitchen.basis === 'calibrated' ? "with this shop's trials" : 'as published' }};
      <RouterLink to="/trials/calibration">predicted against observed</RouterLink>.
    </p>

    <template v-if="prediction.contributions.length">
      <h3>What it rests on, and what makes it uncertain</h3>
      <table>
        <thead>
          <tr>
            <th>input</th>
            <th>value, U</th>
            <th class="number">share of variance</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in prediction.contributions" :key="c.key">
            <td>{{ c.label }}</td>
            <td>{{ c.value }}</td>
            <td class="number share">
              <span class="bar" :style="{ width: `${Math.round(60 * c.share)}px` }"></span>
              {{ c.share >= 0.005 ? Math.round(100 * c.share) : 'under 1' }} %
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="explained < 0.95" class="soft small">
        The other {{ Math.round(100 * (1 - explained)) }} % is curvature, inputs acting together,
        and shares too small to tell from chance.
      </p>
    </template>
    <p v-if="prediction.measure_next" class="next">
      <b>{{ prediction.measure_next.trial ? 'Try next' : 'Measure next' }}:</b>
      {{ prediction.measure_next.label
      }}<template v-if="interval"
        >; the interval narrows by about
        {{ Math.round(100 * prediction.measure_next.gain) }} %</template
      >.
    </p>
    <p v-else-if="interval" class="soft small">
      No single measurement or trial would narrow it much.
    </p>

    <h3>Source</h3>
    <p>{{ card.source }}</p>
    <h3>Valid for</h3>
    <p>{{ card.valid }}</p>
    <template v-if="card.assumptions.length">
      <h3>Assumptions</h3>
      <ul>
        <li v-for="a in card.assumptions" :key="a">{{ a }}</li>
      </ul>
    </template>
    <p class="soft small">Model {{ card.key }}, version {{ card.version }}.</p>
  </aside>
</template>

<style scoped>
.why {
  position: fixed;
  top: 68px;
  right: 0;
  bottom: 0;
  width: min(440px, 100vw);
  overflow-y: auto;
  padding: 16px 20px 28px;
  background: var(--panel);
  border-left: 1px solid var(--hairline);
  box-shadow: -2px 0 10px rgb(0 0 0 / 12%);
  z-index: 8;
}

p,
ul {
  margin: 0 0 8px;
}

ul {
  padding-left: 18px;
}

h2 {
  border: 0;
  margin: 0;
  padding: 0;
}

h3 {
  margin: 14px 0 4px;
  font-size: var(--size-m);
}

.close {
  float: right;
}

.kicker {
  margin: 0;
}

.figure {
  font-size: var(--size-xl);
  margin: 6px 0 2px;
}

.likely {
  margin-left: 10px;
  font-size: var(--size-m);
}

.equation {
  padding: 8px 10px;
  background: var(--ground);
  border-left: 2px solid var(--hairline);
}

.share .bar {
  display: inline-block;
  height: 8px;
  background: var(--predicted);
  margin-right: 6px;
}

.next {
  border-left: 3px solid var(--measured);
  padding-left: 8px;
  margin-top: 8px;
}
</style>
