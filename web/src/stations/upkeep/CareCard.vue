<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import CardPage from '@/drawings/CardPage.vue'
import { profile } from '@/parts/profile'
import { kitchen } from '@/parts/kitchen'
import KitchenBar from '@/parts/KitchenBar.vue'
import StateNote from '@/parts/StateNote.vue'
import RodSwitch from './RodSwitch.vue'

/** One printed page: how this knife is kept, and what is never done with it. */
const props = defineProps<{ pieceId: number }>()

const query = useQuery({
  queryKey: computed(() => ['upkeep', 'care', props.pieceId, { ...kitchen }, profile.rods]),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/care', {
        params: { path: { piece_id: props.pieceId }, query: { ...kitchen, rods: profile.rods } },
      }),
    ),
})
const card = computed(() => query.data.value)
const print = () => window.print()
</script>

<template>
  <StateNote
    v-if="!card"
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
    <CardPage
      :shop="card.shop"
      :place="card.place"
      :outline="card.outline"
      :title="`Keeping ${card.piece.maker} ${card.piece.line} ${card.piece.nominal_mm}`"
    >
      <template #about>
        <p class="soft">
          {{ card.piece.tag }} · {{ card.piece.construction
          }}<template v-if="card.piece.steel"> · steel {{ card.piece.steel }}</template
          ><template v-if="card.piece.handle"> · handle {{ card.piece.handle }}</template> ·
          {{ card.figures.join(' · ') }}
        </p>
      </template>
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
    </CardPage>
  </div>
</template>

<style scoped>
.actions {
  display: flex;
  gap: 20px;
  align-items: end;
  margin-bottom: 12px;
}

h2 {
  margin-top: 12px;
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
</style>
