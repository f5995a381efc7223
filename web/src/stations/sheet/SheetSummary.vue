<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { KnifeSheetOut } from '@/api/schema'
import {
  expandedText,
  inFirstUnit,
  intervalOf,
  likelyText,
  meanText,
  rangeText,
  unitText,
} from '@/parts/numbers'
import { useWhy } from '@/parts/why'

/** What one asks of a knife first: figures, predictions, how its claims hold, what to do next. */
const props = defineProps<{ sheet: KnifeSheetOut }>()

const MEASURED = ['weight', 'edge_length', 'hardness', 'edge_angle', 'thickness_behind_edge']
const PREDICTED = ['cutting_ease', 'months_to_stone']
const VERDICTS = ['confirmed', 'contradicted', 'undecided'] as const

const { catalogue, quantities } = useCatalogue()
const why = useWhy()
const measured = computed(() =>
  MEASURED.flatMap((key) => {
    const q = quantities.value.get(key)
    if (!q) return []
    const figure = props.sheet.figures[key]
    return [{ q, shown: figure && inFirstUnit(q, figure, catalogue.value?.units_first) }]
  }),
)
const predicted = computed(() =>
  PREDICTED.flatMap((key) => {
    const found = props.sheet.predictions.find((p) => p.key === key)
    return found ? [{ p: found, interval: intervalOf(found) }] : []
  }),
)
const claims = computed(() =>
  VERDICTS.flatMap((verdict) => {
    const count = props.sheet.claims.filter((c) => c.verdict === verdict).length
    return count ? [`${count} ${verdict}`] : []
  }),
)
const next = computed(() => predicted.value.find(({ p }) => p.measure_next)?.p.measure_next ?? null)
</script>

<template>
  <section class="summary" aria-label="Summary">
    <dl>
      <div v-for="{ q, shown } in measured" :key="q.key">
        <dt>{{ q.label }}</dt>
        <dd v-if="shown">
          <b>{{ meanText(shown) }}</b> <span class="unit">{{ unitText(shown.unit) }}</span>
          <span class="soft small">± {{ expandedText(shown) }}</span>
        </dd>
        <dd v-else class="soft">not measured</dd>
      </div>
      <div v-for="{ p, interval } in predicted" :key="p.key" class="predicted">
        <dt>{{ p.label }}</dt>
        <dd>
          <button
            v-if="interval"
            type="button"
            class="plain"
            :aria-label="`${p.label}, explained`"
            @click="why.explain(p, sheet.piece.name)"
          >
            <b>{{ likelyText(interval) }}</b> <span class="unit">{{ unitText(p.unit) }}</span>
            <span class="soft small">{{ rangeText(interval) }}</span>
          </button>
          <span v-else class="soft small">not predicted</span>
        </dd>
      </div>
    </dl>
    <p v-if="claims.length || next" class="small next">
      <span v-if="claims.length">
        Printed claims: <a href="#claims">{{ claims.join(', ') }}</a>
      </span>
      <span v-if="next">
        {{ next.trial ? 'Try next' : 'Measure next' }}: <b>{{ next.label }}</b>
      </span>
    </p>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(118px, 1fr));
  gap: 10px 20px;
  margin: 10px 0 4px;
}

dt {
  font-size: var(--size-s);
  color: var(--soft-ink);
}

dt::first-letter {
  text-transform: uppercase;
}

dd {
  margin: 0;
  font-variant-numeric: tabular-nums lining-nums;
}

dd .soft.small {
  margin-left: 5px;
}

dd b {
  font-size: var(--size-l);
  font-weight: 600;
}

.predicted b {
  color: var(--predicted);
}

.next {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 24px;
  margin: 4px 0 0;
}
</style>
