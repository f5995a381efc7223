<script setup lang="ts">
import { computed, ref } from 'vue'
import type { KnifeSheetOut } from '@/api/schema'
import SectionView from '@/drawings/SectionView.vue'
import TaperPlan from '@/drawings/TaperPlan.vue'

/** Sections from heel to tip, and the spine from above. */
const props = defineProps<{ sheet: KnifeSheetOut }>()

const stretched = ref(true)
const tallest = computed(() =>
  Math.max(
    ...props.sheet.shape.sections.flatMap((s) => s.polygon.map(([, z]) => z ?? 0)),
    props.sheet.outline.height_heel_mm,
  ),
)
/** What the drawings take from type and grind, in the words of the blade's mass. */
const inferred = computed(
  () =>
    props.sheet.predictions
      .find((p) => p.card === 'blade_mass')
      ?.notes.find((note) => note.startsWith('Inferred')) ?? '',
)
const taper = computed(() =>
  props.sheet.shape.taper.length ? props.sheet.shape.taper : props.sheet.outline.taper,
)
</script>

<template>
  <section v-if="sheet.shape.sections.length" class="shape" aria-label="Sections and taper">
    <div class="sections">
      <SectionView
        v-for="section in sheet.shape.sections"
        :key="section.label"
        :section="section"
        :stretch="stretched ? 4 : 1"
        :tallest="tallest"
      />
    </div>
    <figure>
      <TaperPlan :tapers="[{ stations: taper, length: sheet.outline.edge_length_mm }]" />
      <figcaption class="small soft">Spine from above, thickness × 12</figcaption>
    </figure>
    <p class="small soft note">
      Sections seen from the heel,
      <button type="button" class="plain link" @click="stretched = !stretched">
        {{
          stretched ? 'thickness × 4, show the true shape' : 'true shape, draw thickness × 4'
        }}</button>. Thickness in mm at 1, 5 and 10 mm above the edge. {{ inferred }}
    </p>
  </section>
</template>

<style scoped>
.shape {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 4px 28px;
  align-items: end;
  margin: 14px 0 8px;
}

.sections {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 12px;
}

figure {
  margin: 0;
}

.note {
  grid-column: 1 / -1;
  margin: 0;
}

@media (max-width: 699px) {
  .shape {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
