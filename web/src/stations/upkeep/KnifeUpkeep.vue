<script setup lang="ts">
import { computed, defineAsyncComponent, onUnmounted, watch } from 'vue'
import { mark } from '@/parts/letters'
import { useHand } from '@/strip/store'

/** One knife's upkeep, part by part. */
const props = defineProps<{ pieceId: number; part: string }>()

const hand = useHand()
watch(
  () => props.pieceId,
  (now) => (hand.current = now),
  { immediate: true },
)
onUnmounted(() => (hand.current = null))

const parts = [
  { key: 'setup', name: 'Set-up', of: defineAsyncComponent(() => import('./SetUp.vue')) },
  {
    key: 'reprofile',
    name: 'Re-profile',
    of: defineAsyncComponent(() => import('./ReProfile.vue')),
  },
  { key: 'life', name: 'Life', of: defineAsyncComponent(() => import('./LifePlan.vue')) },
  { key: 'work', name: 'Work', of: defineAsyncComponent(() => import('./WorkOrders.vue')) },
  { key: 'care', name: 'Care card', of: defineAsyncComponent(() => import('./CareCard.vue')) },
]
const shown = computed(() => parts.find((p) => p.key === props.part) ?? parts[0])
</script>

<template>
  <div>
    <nav class="tabs no-print" aria-label="Parts of Upkeep">
      <RouterLink to="/upkeep" class="soft">Upkeep</RouterLink>
      <RouterLink
        v-for="p in parts"
        :key="p.key"
        :to="`/upkeep/${pieceId}/${p.key}`"
        class="room"
        active-class="on"
      >
        {{ p.name }}
      </RouterLink>
      <span v-if="hand.ids.length > 1" class="hand">
        <RouterLink
          v-for="(id, i) in hand.ids"
          :key="id"
          :to="`/upkeep/${id}/${shown?.key}`"
          :aria-current="id === pieceId ? 'page' : undefined"
          :aria-label="`Knife ${mark(i).letter}`"
        >
          <b :style="{ color: mark(i).colour }">{{ mark(i).letter }}</b>
        </RouterLink>
      </span>
      <RouterLink :to="`/sheet/${pieceId}`" class="soft end">Sheet of this knife</RouterLink>
    </nav>
    <component :is="shown?.of" :key="pieceId" :piece-id="pieceId" />
  </div>
</template>

<style scoped>
.tabs {
  margin-bottom: 12px;
}

.hand {
  display: inline-flex;
  gap: 10px;
}

.hand a {
  padding: 4px 2px;
  text-decoration: none;
}

.hand [aria-current] {
  box-shadow: inset 0 -2px 0 var(--ink);
}
</style>
