<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed } from 'vue'
import type { KnifeSheetOut } from '@/api/schema'
import EdgeOnBoard from '@/drawings/EdgeOnBoard.vue'
import RockDiagram from '@/drawings/RockDiagram.vue'
import { rounded } from '@/parts/numbers'

/** What the edge does on a flat board: rest, flat, belly, rock, and its class with the reasons. */
const props = defineProps<{ sheet: KnifeSheetOut }>()

const BY: Record<string, string> = { stations: 'stations', photo: 'a photo' }
const profile = computed(() => props.sheet.profile)
const rows = computed<[string, string][]>(() => {
  const p = profile.value
  const span = ([from, to]: readonly number[]) =>
    `${rounded(from ?? 0, 0)} to ${rounded(to ?? 0, 0)} mm`
  return [
    ['flat, within 0.3 mm', `${rounded(p.flat_length_mm, 0)} mm (${span(p.flat)})`],
    ['chopping, within 1 mm', `${rounded(p.chopping_length_mm, 0)} mm (${span(p.chopping)})`],
    ['belly radius', p.belly_radius_mm === null ? 'no belly' : `${p.belly_radius_mm} mm`],
    ['tip height', `${rounded(p.tip_height_mm, 1)} mm`],
    [
      'rocking',
      `${labelOf('Rocking', p.rocking)}, over ${rounded(100 * p.rocking_share, 0)} % of the edge`,
    ],
    [
      'tip digs in',
      `at ${rounded(p.rock_deg, 1)}°, handle end ${rounded(p.butt_rise_mm, 0)} mm up`,
    ],
    [
      'knuckle room',
      `${rounded(p.knuckle_room_mm, 0)} mm${p.knuckle_room_measured ? '' : ', from the drawing'}`,
    ],
  ]
})
</script>

<template>
  <section class="profile" aria-label="On the board">
    <h2>On the board</h2>
    <div class="pair">
      <EdgeOnBoard :outline="sheet.outline" :profile="profile" />
      <div>
        <p class="kind">
          <b>{{ labelOf('ProfileClass', profile.kind) }}</b>
          <span class="soft small">: {{ profile.reasons.join(', ') }}</span>
        </p>
        <p v-if="profile.hollow" class="rust">
          ⚠ Hollow of {{ rounded(profile.hollow.gap_mm, 2) }} mm at
          {{ rounded(profile.hollow.at_mm, 0) }} mm from the heel ({{
            rounded(profile.hollow.from_mm, 0)
          }}
          to {{ rounded(profile.hollow.to_mm, 0) }} mm): it leaves threads on the board.
        </p>
        <p v-if="profile.hump_mm !== null" class="rust">
          ⚠ Hump {{ rounded(profile.hump_mm, 0) }} mm from the heel: the edge beside it misses the
          board.
        </p>
        <table>
          <tbody>
            <tr v-for="[label, value] in rows" :key="label">
              <td class="soft">{{ label }}</td>
              <td>{{ value }}</td>
            </tr>
          </tbody>
        </table>
        <p class="small soft">
          <template v-if="sheet.traced">
            Edge taken by {{ BY[sheet.traced.source] ?? 'a trace' }},
            {{ sheet.traced.points }} points, {{ sheet.traced.person }}.
          </template>
          <template v-else>
            The edge was not traced: its line is inferred from type and figures. Trace it at the
            Bench, stop “On the board”.
          </template>
        </p>
        <details class="small soft">
          <summary>Contact against raise, and how the class is decided</summary>
          <RockDiagram :lines="[{ rock: profile.rock, length: profile.length_mm }]" />
          <ul>
            <li v-for="rule in profile.rules" :key="rule">{{ rule }}</li>
          </ul>
        </details>
      </div>
    </div>
  </section>
</template>

<style scoped>
.profile {
  margin-top: 18px;
}

.pair {
  display: grid;
  grid-template-columns: minmax(0, 7fr) minmax(0, 5fr);
  gap: 8px 32px;
  align-items: start;
}

.kind {
  margin: 0 0 6px;
}

.kind b {
  font-family: var(--serif);
  font-size: var(--size-l);
}

@media (max-width: 699px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
