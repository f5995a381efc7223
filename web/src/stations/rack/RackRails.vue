<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { RackRow } from '@/api/schema'
import HangingKnife from './HangingKnife.vue'
import { useVisible } from './useVisible'

/** The shelf as rails of knives; only the rails near the window are drawn. */
const props = defineProps<{
  count: number
  at: (place: number) => RackRow | undefined
  span: number
}>()
const emit = defineEmits<{ point: [id: number | null]; see: [first: number, last: number] }>()

const NARROWEST = 184
const box = ref<HTMLElement | null>(null)
const rails = computed(() => Math.ceil(props.count / across.value))
const across = ref(4)
const { drawn, width, before, after, measure } = useVisible(box, rails, 200, 3)
watch(width, (wide) => (across.value = Math.max(1, Math.floor(wide / NARROWEST))))

const places = (rail: number) =>
  Array.from(
    { length: Math.min(across.value, props.count - rail * across.value) },
    (_, i) => rail * across.value + i,
  )
watch(
  drawn,
  (now) => {
    const [first, last] = [now[0], now.at(-1)]
    if (first && last) {
      emit('see', first.index * across.value, (last.index + 1) * across.value - 1)
    }
  },
  { immediate: true },
)
</script>

<template>
  <div ref="box">
    <div :style="{ height: `${before}px` }"></div>
    <ol
      v-for="rail in drawn"
      :key="String(rail.key)"
      :ref="measure"
      :data-index="rail.index"
      class="rails"
      :style="{ '--across': across }"
      :aria-label="`Rail ${rail.index + 1} of ${rails}`"
    >
      <template v-for="place in places(rail.index)" :key="at(place)?.piece.id ?? `at ${place}`">
        <HangingKnife
          v-if="at(place)"
          :row="at(place)!"
          :span="span"
          @point="emit('point', $event)"
        />
        <li v-else class="coming" aria-label="on its way"></li>
      </template>
    </ol>
    <div :style="{ height: `${after}px` }"></div>
  </div>
</template>

<style scoped>
.rails {
  display: grid;
  grid-template-columns: repeat(var(--across), minmax(0, 1fr));
  list-style: none;
  margin: 0;
  padding: 0;
}

.coming {
  grid-row: span 3;
  min-height: 276px;
  border-top: 9px solid var(--strip);
  background: linear-gradient(var(--panel), var(--panel)) 0 14px / 86% 26px no-repeat;
}
</style>
