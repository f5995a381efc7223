<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import KnifeShape from '@/drawings/KnifeShape.vue'
import { extent } from '@/drawings/paths'
import ScaleBar from '@/drawings/ScaleBar.vue'
import { job } from '@/parts/job'
import StateNote from '@/parts/StateNote.vue'

/** One printed page: the knife, why it was advised, how it is kept, what it must not be put to. */
const props = defineProps<{ pieceId: number }>()

const query = useQuery({
  queryKey: computed(() => ['card', props.pieceId, { ...job, shares: { ...job.shares } }]),
  retry: false,
  queryFn: () =>
    data(api.POST('/api/counter/card', { body: { piece_id: props.pieceId, job: { ...job } } })),
})
const card = computed(() => query.data.value)
const today = new Date().toLocaleDateString('en-GB', {
  day: 'numeric',
  month: 'long',
  year: 'numeric',
})
const box = computed(() => {
  if (!card.value) return null
  const { left, right, top, bottom } = extent(card.value.outline)
  const low = Math.min(bottom, 0) - 18
  return { left, low, text: `${left - 3} ${-top - 3} ${right - left + 6} ${top - low + 3}` }
})
const print = () => window.print()
</script>

<template>
  <StateNote
    v-if="!card || !box"
    :error="query.error.value"
    waiting="Writing the card…"
    :retry="() => query.refetch()"
  />
  <article v-else class="card">
    <p class="actions no-print">
      <RouterLink to="/counter">Back to the Counter</RouterLink>
      <v-btn @click="print">Print</v-btn>
    </p>
    <header>
      <p class="soft">
        {{ card.shop }}<template v-if="card.place">, {{ card.place }}</template>
      </p>
      <h1>{{ card.piece.maker }} {{ card.piece.line }} {{ card.piece.nominal_mm }}</h1>
      <p class="soft">
        {{ card.piece.tag
        }}<template v-if="card.piece.condition !== 'new'"> · {{ card.piece.condition }}</template> ·
        {{ card.piece.construction
        }}<template v-if="card.piece.steel"> · steel {{ card.piece.steel }}</template>
        <template v-if="card.piece.price !== null">
          · {{ card.piece.price }} {{ card.currency }}</template
        >
        · chosen for {{ card.customer }}, {{ today }}
      </p>
    </header>
    <svg :viewBox="box.text" role="img" aria-label="The knife, as measured">
      <KnifeShape :outline="card.outline" />
      <ScaleBar :x="box.left" :y="-box.low - 4" :length="50" :size="8" />
    </svg>
    <p class="figures">Measured: {{ card.figures.join(' · ') }} (U, k = 2)</p>
    <div class="columns">
      <section v-if="card.why.length">
        <h2>Why this one</h2>
        <p v-for="line in card.why" :key="line">{{ line }}</p>
      </section>
      <section v-if="card.gives_up.length">
        <h2>What it gives up</h2>
        <p v-for="line in card.gives_up" :key="line">{{ line }}</p>
      </section>
    </div>
    <section>
      <h2>Keep it well</h2>
      <ul>
        <li v-for="line in card.care" :key="line">{{ line }}</li>
      </ul>
    </section>
    <section>
      <h2>Mind</h2>
      <ul>
        <li v-for="line in card.warnings" :key="line" class="rust">⚠ {{ line }}</li>
        <li v-for="line in card.cautions" :key="line" class="small">{{ line }}</li>
      </ul>
    </section>
  </article>
</template>

<style scoped>
.card {
  max-width: 800px;
  padding: 4px 24px 20px;
  background: var(--panel);
  border: 1px solid var(--hairline);
}

.actions {
  display: flex;
  align-items: center;
  gap: 20px;
}

header p,
.figures,
.columns p {
  margin: 2px 0;
}

svg {
  width: 100%;
  max-height: 170px;
  margin: 10px 0 4px;
}

.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 28px;
}

section {
  margin-top: 14px;
  break-inside: avoid;
}

ul {
  margin: 4px 0;
  padding-left: 18px;
}

li {
  margin: 1px 0;
}

@media (max-width: 699px) {
  .columns {
    grid-template-columns: 1fr;
    gap: 0;
  }
}

@media print {
  .card {
    max-width: none;
    padding: 0;
    border: 0;
    background: none;
    font-size: 11pt;
  }
}
</style>
