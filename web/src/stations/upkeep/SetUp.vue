<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { FaceOut, LiftOut, Tool } from '@/api/schema'
import OnTheStone from '@/drawings/OnTheStone.vue'
import CardNote from '@/parts/CardNote.vue'
import LifeSize from '@/parts/LifeSize.vue'
import StateNote from '@/parts/StateNote.vue'
import { decimalsFor, rounded } from '@/parts/numbers'
import { profile } from '@/parts/profile'
import RodSwitch from './RodSwitch.vue'

/** This knife, this tool: how high the spine, how many strokes, and what may never touch it. */
const props = defineProps<{ pieceId: number }>()

const tool = ref<Tool>('whetstone')
const typed = ref('')
const reach = ref('150')
const reachMm = computed(() => {
  const value = Number(reach.value.replace(',', '.'))
  return value >= 30 && value <= 400 ? value : 150
})
const angle = computed(() => {
  const value = Number(typed.value.replace(',', '.'))
  return typed.value.trim() && value >= 5 && value <= 35 ? value : undefined
})
const wrong = computed(() => typed.value.trim() !== '' && angle.value === undefined)
const query = useQuery({
  queryKey: computed(() => [
    'upkeep',
    'setup',
    props.pieceId,
    tool.value,
    angle.value,
    profile.rods,
    reachMm.value,
  ]),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/setup', {
        params: {
          path: { piece_id: props.pieceId },
          query: { tool: tool.value, rods: profile.rods, angle: angle.value, reach: reachMm.value },
        },
      }),
    ),
})
const setup = computed(() => query.data.value)
const rule = computed(() => setup.value?.rules.find((r) => r.tool === tool.value))
const upright = computed(() => tool.value.endsWith('_rod'))
const lifted = computed(() => setup.value?.faces.filter((f) => f.lifts.length) ?? [])
/** Faces whose lifts differ by less than a tenth of a millimetre are told together. */
const told = computed(() => {
  const [first, second] = lifted.value
  if (!first || !second) return lifted.value.map((f) => ({ face: f, name: `${f.face} face` }))
  const alike = first.lifts.every(
    (l, i) => Math.abs(l.lift_mm - (second.lifts[i]?.lift_mm ?? 0)) < 0.1,
  )
  return alike
    ? [{ face: first, name: 'both faces' }]
    : [first, second].map((f) => ({ face: f, name: `${f.face} face` }))
})
const drawn = computed(() => told.value[0]?.face ?? null)
const flats = computed(() => setup.value?.faces.filter((f) => f.flat) ?? [])
const front = computed<FaceOut | undefined>(() => flats.value.find((f) => f.angle_deg > 0))
const liftText = (l: LiftOut) => rounded(l.lift_mm, Math.min(1, decimalsFor(2 * l.expanded)))
const LEAVE = { yes: '✓', lightly: '~', never: '⚠' }
</script>

<template>
  <StateNote
    v-if="!setup"
    :error="query.error.value"
    waiting="Setting it up…"
    :retry="() => query.refetch()"
  />
  <div v-else class="setup">
    <section aria-label="Tools">
      <h2>{{ setup.piece.tag }}: which tool</h2>
      <ul class="tools">
        <li v-for="r in setup.rules" :key="r.tool" :class="{ on: r.tool === tool }">
          <button
            type="button"
            class="plain"
            :aria-pressed="r.tool === tool"
            @click="tool = r.tool"
          >
            <span class="name">{{ labelOf('Tool', r.tool) }}</span>
            <span class="leave" :class="{ rust: r.leave === 'never' }"
              >{{ LEAVE[r.leave] }} {{ labelOf('Leave', r.leave) }}</span
            >
            <span class="why small soft"
              >{{ r.why
              }}<template v-if="r.by_the_other_school">
                The other school: {{ r.by_the_other_school }}.</template
              ></span
            >
          </button>
        </li>
      </ul>
      <RodSwitch />
    </section>

    <section aria-label="Set-up" :class="{ stale: query.isPlaceholderData.value }">
      <h2>
        <span class="tool">{{ labelOf('Tool', tool) }}</span>
        <label class="angle">
          <input
            v-model="typed"
            inputmode="decimal"
            :placeholder="rounded(setup.found_angle_deg, 1)"
            :aria-invalid="wrong"
            aria-label="Angle per side"
          />
          <span class="unit">{{
            flats.length
              ? '° on the face, none on the back'
              : `° per side, ${rounded(2 * setup.angle_per_side_deg, 1)}° inclusive`
          }}</span>
        </label>
      </h2>
      <p v-if="wrong" class="rust" role="alert">⚠ An angle per side from 5 to 35 degrees.</p>
      <p v-if="rule?.leave === 'never'" class="rust never" role="status">
        ⚠ <b>Never on this knife.</b> {{ rule.why }}
      </p>
      <template v-else>
        <p v-if="rule?.leave === 'lightly'">Lightly: {{ rule.why }}</p>
        <OnTheStone
          v-if="drawn"
          :section="setup.section"
          :angle="drawn.angle_deg"
          :face="drawn.face === 'left' ? 'left' : 'right'"
          :lift="drawn.lifts[0]?.lift_mm ?? null"
          :stack="drawn.lifts[0]?.stack"
          :upright="upright"
          :title="`The section at the heel on the ${labelOf('Tool', tool)}, ${rounded(drawn.angle_deg, 1)}° per side`"
        />
        <OnTheStone
          v-else-if="front"
          :section="setup.section"
          :angle="front.angle_deg"
          :face="front.face === 'left' ? 'left' : 'right'"
          :lift="null"
          title="The section lying on its wide bevel"
        />
        <LifeSize />
        <div v-if="drawn" class="scroll">
          <table class="lifts">
            <thead>
              <tr>
                <th>face and place</th>
                <th class="number wide">from the heel</th>
                <th class="number wide">height</th>
                <th class="number wide">spine</th>
                <th class="number">{{ upright ? 'spine off the rod' : 'spine over the stone' }}</th>
                <th v-if="!upright">spacers</th>
              </tr>
            </thead>
            <tbody v-for="{ face, name } in told" :key="face.face">
              <tr v-for="(l, i) in face.lifts" :key="l.place">
                <td>
                  <b v-if="!i">{{ name }}</b> {{ l.place }}
                </td>
                <td class="number wide">{{ rounded(l.at_mm, 0) }} <span class="unit">mm</span></td>
                <td class="number wide">
                  {{ rounded(l.height_mm, 1) }} <span class="unit">mm</span>
                </td>
                <td class="number wide">
                  {{ rounded(l.spine_mm, 2) }} <span class="unit">mm</span>
                </td>
                <td class="number grade-G">
                  <b v-if="l.lift_mm > 0">{{ liftText(l) }}</b>
                  <b v-else class="rust">⚠ the spine touches</b>
                  <span class="unit">{{
                    l.expanded < 0.05 ? ' mm within 0.05' : ` ± ${rounded(l.expanded, 1)} mm`
                  }}</span>
                </td>
                <td v-if="!upright">
                  <template v-if="l.stack && l.lift_mm > 0"
                    >{{ l.stack.words }}
                    <span class="soft small"
                      >{{ rounded(l.stack.height_mm, 2) }} mm,
                      {{ rounded(l.stack.angle_deg, 1) }}°</span
                    ></template
                  >
                  <span v-else class="soft">no stack of spacers comes close</span>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <dl class="facts">
          <template v-for="f in flats" :key="f.face">
            <dt>{{ f.face }} face</dt>
            <dd>{{ f.flat }}</dd>
          </template>
          <dt>strokes</dt>
          <dd>
            {{ setup.strokes_words }}
            <span class="soft">Ratio {{ setup.ratio }}, read as {{ setup.school }}.</span>
          </dd>
          <template v-if="upright">
            <dt>rod</dt>
            <dd>
              Upright, the blade leaning {{ rounded(setup.angle_per_side_deg, 1) }}° from it. With
              the blade held upright, the rod leans as much.
            </dd>
          </template>
          <template v-if="tool === 'clamp'">
            <dt>guide</dt>
            <dd>
              With the pivot
              <input
                v-model.lazy="reach"
                class="reach"
                inputmode="decimal"
                aria-label="Reach, mm"
              />
              mm from the edge it stands
              <b class="grade-G">{{ rounded(setup.guide_height_mm, 1) }} mm</b> above the blade’s
              middle plane.
            </dd>
          </template>
          <dt>held</dt>
          <dd>{{ setup.held }}</dd>
        </dl>
      </template>
      <p v-for="note in setup.notes" :key="note" class="small">{{ note }}</p>
      <p v-for="caution in setup.cautions" :key="caution" class="soft small">⚠ {{ caution }}</p>
      <CardNote card="lift" />
    </section>
  </div>
</template>

<style scoped>
.setup {
  display: grid;
  grid-template-columns: minmax(0, 4fr) minmax(0, 8fr);
  gap: 36px;
}

.tools {
  list-style: none;
  margin: 0 0 14px;
  padding: 0;
}

.tools button {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 10px;
  width: 100%;
  padding: 7px 8px;
  border-bottom: 1px solid var(--hairline);
}

.tools .on button {
  background: var(--panel);
  box-shadow: inset 3px 0 0 var(--measured);
}

.name {
  font-weight: 600;
}

.why {
  grid-column: 1 / -1;
}

h2 {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
}

.tool {
  display: inline-block;
}

.tool::first-letter {
  text-transform: uppercase;
}

.angle {
  font: var(--size-m) var(--sans);
  display: inline-flex;
  align-items: baseline;
  gap: 6px;
}

input {
  font: 600 var(--size-l) var(--sans);
  width: 70px;
}

input.reach {
  width: 64px;
  font-size: var(--size-m);
}

.never {
  padding: 10px 12px;
  border-left: 3px solid var(--rust);
}

.lifts {
  margin: 8px 0;
}

.lifts td:first-child,
.lifts td .small {
  white-space: nowrap;
}

p {
  margin: 3px 0;
}

@media (max-width: 699px) {
  .setup {
    grid-template-columns: minmax(0, 1fr);
    gap: 16px;
  }

  .wide {
    display: none;
  }
}
</style>
