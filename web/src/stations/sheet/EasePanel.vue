<script setup lang="ts">
import { computed } from 'vue'
import type { EaseOut } from '@/api/schema'
import BladeSection from '@/drawings/BladeSection.vue'
import { rounded } from '@/parts/numbers'

/** Reference and index in one picture: both sections, and the ease of every food on one scale. */
const props = defineProps<{ ease: EaseOut }>()

const FROM = 40
const highest = computed(() =>
  Math.max(160, ...props.ease.foods.flatMap((f) => [f.fresh, f.worn].map((v) => 1.05 * v))),
)
const at = (index: number) =>
  `${(100 * (Math.max(FROM, Math.min(index, highest.value)) - FROM)) / (highest.value - FROM)}%`
const sections = computed(() => {
  const own = props.ease.section
  return [
    { polygon: props.ease.reference, style: { colour: 'var(--soft-ink)', dash: '4 3' } },
    ...(own ? [{ polygon: own, style: { colour: 'var(--predicted)', dash: '' } }] : []),
  ]
})
</script>

<template>
  <section v-if="ease.foods.length" aria-label="Ease, food by food">
    <h3>
      Ease, food by food
      <span class="unit">index, {{ ease.stroke }}; 100 is the reference blade</span>
    </h3>
    <div class="pair">
      <figure>
        <BladeSection :sections="sections" label="Section over that of the reference blade" />
        <figcaption class="small soft">Dashed the reference; thickness × 4</figcaption>
      </figure>
      <div>
        <div v-for="food in ease.foods" :key="food.key" class="row" :class="{ not: !food.part }">
          <span>
            {{ food.label }}
            <span v-if="food.part" class="soft small">{{ rounded(food.part, 0) }} %</span>
          </span>
          <span class="scale" aria-hidden="true">
            <span class="reference" :style="{ left: at(100) }"></span>
            <span
              class="between"
              :style="{ left: at(food.worn), right: `calc(100% - ${at(food.fresh)})` }"
            ></span>
            <span class="dot" :style="{ left: at(food.fresh) }"></span>
            <span class="dot hollow" :style="{ left: at(food.worn) }"></span>
          </span>
          <span class="number">
            <b>{{ rounded(food.fresh, 0) }}</b>
          </span>
          <span class="number soft">{{ rounded(food.worn, 0) }}</span>
        </div>
        <p class="small soft">
          Full dot and bold: fresh from the stone; hollow: half way to the stone. Index = effort of
          the reference over the effort of this knife, effort = √(bite × force through). The
          reference is flat, 2.2 mm at the heel, 1.9 and 0.8 mm along 210 mm, 45 mm high, 0.30 mm
          behind the edge, 15° per side. Per cent: the food's part in the job; the job's index is
          their weighted geometric mean. Central values. {{ ease.food_words }}
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
  font-size: var(--size-m);
}

.pair {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 16px;
}

figure,
p {
  margin: 0;
}

.row {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr) 34px 34px;
  gap: 10px;
  align-items: center;
  min-height: 26px;
}

.row.not {
  opacity: 0.75;
}

.scale {
  position: relative;
  height: 14px;
  border-bottom: 1px solid var(--hairline);
}

.reference {
  position: absolute;
  top: -6px;
  bottom: -6px;
  border-left: 1px dashed var(--soft-ink);
}

.between {
  position: absolute;
  top: 6px;
  height: 2px;
  background: var(--predicted);
}

.dot {
  position: absolute;
  top: 2px;
  width: 10px;
  height: 10px;
  margin-left: -5px;
  border: 2px solid var(--predicted);
  border-radius: 50%;
  background: var(--predicted);
}

.hollow {
  background: var(--ground);
}

@media (max-width: 699px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }

  figure {
    max-width: 120px;
  }

  .row {
    grid-template-columns: 120px minmax(0, 1fr) 30px 30px;
  }
}
</style>
