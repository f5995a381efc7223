<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import KnifeShape from '@/drawings/KnifeShape.vue'
import { extent } from '@/drawings/paths'
import ScaleBar from '@/drawings/ScaleBar.vue'
import { job } from '@/parts/job'
import { kitchen } from '@/parts/kitchen'
import KitchenBar from '@/parts/KitchenBar.vue'
import StateNote from '@/parts/StateNote.vue'
import RodSwitch from './RodSwitch.vue'

/** One printed page: how this knife is kept, and what is never done with it. */
const props = defineProps<{ pieceId: number }>()

const query = useQuery({
  queryKey: computed(() => ['upkeep', 'care', props.pieceId, { ...kitchen }, job.rods]),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/care', {
        params: { path: { piece_id: props.pieceId }, query: { ...kitchen, rods: job.rods } },
      }),
    ),
})
const card = computed(() => query.data.value)
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
  <div v-else>
    <KitchenBar short />
    <div class="actions no-print">
      <RodSwitch />
      <v-btn @click="print">Print</v-btn>
    </div>
    <article class="card">
      <p class="soft">
        {{ card.shop }}<template v-if="card.place">, {{ card.place }}</template>
      </p>
      <h2 class="title">
        Keeping {{ card.piece.maker }} {{ card.piece.line }} {{ card.piece.nominal_mm }}
      </h2>
      <p class="soft">
        {{ card.piece.tag }} · {{ card.piece.construction
        }}<template v-if="card.piece.steel"> · steel {{ card.piece.steel }}</template
        ><template v-if="card.piece.handle"> · handle {{ card.piece.handle }}</template> ·
        {{ card.figures.join(' · ') }}
      </p>
      <svg :viewBox="box.text" role="img" aria-label="The knife, as measured">
        <KnifeShape :outline="card.outline" />
        <ScaleBar :x="box.left" :y="-box.low - 4" :length="50" :size="8" />
      </svg>
      <div class="columns">
        <section>
          <h2>Every day</h2>
          <ul>
            <li v-for="line in card.every_day" :key="line">{{ line }}</li>
          </ul>
          <h2>The handle</h2>
          <ul>
            <li v-for="line in card.handle" :key="line">{{ line }}</li>
          </ul>
        </section>
        <section>
          <h2>Its edge</h2>
          <ul>
            <li v-for="line in card.edge" :key="line">{{ line }}</li>
          </ul>
          <h2 class="rust">Never</h2>
          <ul class="never">
            <li v-for="line in card.never" :key="line" class="rust">⚠ {{ line }}</li>
          </ul>
        </section>
      </div>
      <ul class="small soft foot">
        <li v-for="line in card.cautions" :key="line">{{ line }}</li>
      </ul>
    </article>
  </div>
</template>

<style scoped>
.actions {
  display: flex;
  gap: 20px;
  align-items: end;
  margin-bottom: 12px;
}

.card {
  max-width: 860px;
  padding: 14px 24px 20px;
  background: var(--panel);
  border: 1px solid var(--hairline);
}

.card > p {
  margin: 2px 0;
}

svg {
  width: 100%;
  max-height: 150px;
  margin: 12px 0 4px;
}

.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 32px;
}

h2 {
  margin-top: 12px;
}

ul {
  margin: 4px 0;
  padding-left: 18px;
}

li {
  margin: 3px 0;
}

.title {
  margin: 0;
  padding: 0;
  border: 0;
  font-size: var(--size-xl);
}

.never {
  list-style: none;
  padding: 0;
}

.foot {
  border-top: 1px solid var(--hairline);
  padding-top: 8px;
  margin-top: 14px;
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

  section {
    break-inside: avoid;
  }
}
</style>
