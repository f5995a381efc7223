<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed } from 'vue'
import type { OfferOut } from '@/api/schema'
import KnifeShape from '@/drawings/KnifeShape.vue'
import { rangeText, rounded, simulationsText } from '@/parts/numbers'
import { useHand } from '@/strip/store'

/** One knife of the short list: why this one, what it gives up, what to say with it. */
const props = defineProps<{ offer: OfferOut; place: number; currency: string }>()

const hand = useHand()
const months = computed(() => {
  const [low, high] = props.offer.months
  return low !== undefined && high !== undefined ? rangeText({ low, high }) : ''
})
/** The whole knife, every offer at one scale: 420 mm fill the width; drawn with y up. */
const box = computed(() => {
  const points = [...props.offer.outline.blade, ...props.offer.outline.handle]
  const ys = points.map(([, y = 0]) => y)
  const left = Math.min(...points.map(([x = 0]) => x))
  const top = Math.max(...ys)
  return `${left - 4} ${-top - 4} 420 ${top - Math.min(...ys) + 8}`
})
/** The score's median and 90 % limits, of 100. */
const hundred = (at: number) => Math.round(100 * (props.offer.score[at] ?? 0))
/** Criteria with what each stands on. */
const told = (criteria: string[]) =>
  criteria
    .map((name) => {
      const found = props.offer.criteria.find((c) => c.criterion === name)
      const said = labelOf('Criterion', name)
      return found ? `${said} (${found.stands_on})` : said
    })
    .join(', ')
const held = computed(() => hand.ids.includes(props.offer.piece.id))
</script>

<template>
  <li class="offer">
    <svg class="drawn" :viewBox="box" aria-hidden="true">
      <KnifeShape :outline="offer.outline" />
    </svg>
    <div>
      <h3>
        {{ place }}
        <RouterLink :to="`/sheet/${offer.piece.id}`">
          {{ offer.piece.name.split(' · ')[0] }} ·
          <span class="tag">{{ offer.piece.tag }}</span></RouterLink
        >
        <span v-if="offer.piece.condition !== 'new'" class="tie">{{ offer.piece.condition }}</span>
        <span v-if="offer.tied" class="tie">
          {{ place === 1 ? 'too close to call' : 'may be as good as the first' }}
        </span>
      </h3>
      <p>
        <template v-if="offer.piece.price !== null">
          <b>{{ offer.piece.price }}</b> {{ currency }} ·
        </template>
        suits <b>{{ hundred(0) }}</b> of 100 ({{ hundred(1) }} to {{ hundred(2) }}) · best in
        {{ simulationsText(offer.first) }} simulations · a stone every {{ months }} months
      </p>
      <p>
        {{ offer.what_for }} <span class="soft">{{ offer.not_for }}</span>
      </p>
      <p v-if="offer.a_year">
        Owning it costs <b>{{ rounded(offer.a_year.total, 0) }}</b> {{ currency }} a year:
        {{ rounded(offer.a_year.knife, 0) }} for the knife over
        {{ rounded(offer.a_year.years, 0) }} years<template v-if="offer.a_year.charge"
          >, {{ rounded(offer.a_year.total - offer.a_year.knife, 0) }} for
          {{ rounded(offer.a_year.sharpenings, 1) }} sharpenings at the shop's
          {{ rounded(offer.a_year.charge, 0) }}</template
        >.
      </p>
      <p v-if="offer.why.length">
        <span class="grade-M">In its favour:</span> {{ told(offer.why) }}.
      </p>
      <p v-if="offer.gives_up.length">
        <span class="grade-G">Trade-offs:</span> {{ told(offer.gives_up) }}.
      </p>
      <p v-for="warning in offer.warnings" :key="warning" class="rust">⚠ {{ warning }}</p>
    </div>
    <div class="criteria">
      <div v-for="c in offer.criteria" :key="c.criterion" class="criterion small">
        <span class="soft" :title="c.stands_on">{{ labelOf('Criterion', c.criterion) }}</span>
        <svg viewBox="0 0 100 6" preserveAspectRatio="none" aria-hidden="true">
          <line x1="0" x2="100" y1="3" y2="3" />
          <rect x="0" y="0" :width="100 * c.desirability" height="6" />
        </svg>
        <span class="number">{{ Math.round(100 * c.desirability) }}</span>
      </div>
      <div class="do no-print">
        <v-btn @click="hand.toggle(offer.piece.id)">
          {{ held ? 'Take off the strip' : 'Hang on the strip' }}
        </v-btn>
        <v-btn :to="`/counter/card/${offer.piece.id}`">Take-home card</v-btn>
      </div>
    </div>
  </li>
</template>

<style scoped>
.offer {
  display: grid;
  grid-template-columns: 140px minmax(0, 1fr) 216px;
  gap: 18px;
  padding: 10px 0;
  border-bottom: 1px solid var(--hairline);
  break-inside: avoid;
}

.drawn {
  width: 100%;
}

h3 {
  font-size: var(--size-l);
  margin: 0 0 2px;
}

h3 a {
  color: inherit;
}

.tag {
  white-space: nowrap;
}

.tie {
  margin-left: 8px;
  font-family: var(--sans);
  font-size: var(--size-s);
  font-weight: 400;
  color: var(--derived);
}

p {
  margin: 0 0 2px;
}

.criterion {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr) 26px;
  gap: 6px;
  align-items: center;
}

.criterion svg {
  width: 100%;
  height: 6px;
}

.criterion line {
  stroke: var(--hairline);
}

.criterion rect {
  fill: var(--predicted);
}

.do {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 6px;
}

@media (max-width: 699px) {
  .offer {
    grid-template-columns: minmax(0, 1fr);
    gap: 6px;
  }

  .drawn {
    max-width: 240px;
  }
}
</style>
