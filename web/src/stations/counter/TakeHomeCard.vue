<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import CardPage from '@/drawings/CardPage.vue'
import { asked } from '@/parts/profile'
import StateNote from '@/parts/StateNote.vue'

/** One printed page: the knife, why it was advised, how it is kept, what it must not be put to. */
const props = defineProps<{ pieceId: number }>()

const query = useQuery({
  queryKey: computed(() => ['card', props.pieceId, asked()]),
  retry: false,
  queryFn: () =>
    data(api.POST('/api/counter/card', { body: { piece_id: props.pieceId, profile: asked() } })),
})
const card = computed(() => query.data.value)
const today = new Date().toLocaleDateString('en-GB', {
  day: 'numeric',
  month: 'long',
  year: 'numeric',
})
const print = () => window.print()
</script>

<template>
  <StateNote
    v-if="!card"
    :error="query.error.value"
    waiting="Writing the card…"
    :retry="() => query.refetch()"
  />
  <CardPage
    v-else
    :shop="card.shop"
    :place="card.place"
    :outline="card.outline"
    :title="`${card.piece.maker} ${card.piece.line} ${card.piece.nominal_mm}`"
  >
    <template #actions>
      <p class="actions no-print">
        <RouterLink to="/counter">Back to the Counter</RouterLink>
        <v-btn @click="print">Print</v-btn>
      </p>
    </template>
    <template #about>
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
    </template>
    <p class="figures">Measured: {{ card.figures.join(' · ') }} (U, k = 2)</p>
    <div class="columns">
      <section v-if="card.why.length">
        <h2>Why this one</h2>
        <p v-for="line in card.why" :key="line">{{ line }}</p>
      </section>
      <section v-if="card.gives_up.length">
        <h2>Trade-offs</h2>
        <p v-for="line in card.gives_up" :key="line">{{ line }}</p>
      </section>
    </div>
    <section>
      <h2>Care</h2>
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
  </CardPage>
</template>

<style scoped>
.actions {
  display: flex;
  align-items: center;
  gap: 20px;
}

section p {
  margin: 2px 0;
}
</style>
