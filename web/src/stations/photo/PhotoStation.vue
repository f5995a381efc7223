<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { KnownIn } from '@/api/schema'
import BladeSection from '@/drawings/BladeSection.vue'
import { rounded } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import { usePhotos, type Pixel, type View } from './measuring'
import PhotoCanvas from './PhotoCanvas.vue'
import PhotoProfile from './PhotoProfile.vue'
import PhotoStart from './PhotoStart.vue'
import PhotoValues from './PhotoValues.vue'

/** Measure a piece from photos with a scale card, and take the figures over into its sheet. */
const props = defineProps<{ sheetId: number }>()

const sheet = useQuery({
  queryKey: ['bench-sheet', props.sheetId],
  queryFn: () =>
    data(
      api.GET('/api/bench/sheets/{sheet_id}', { params: { path: { sheet_id: props.sheetId } } }),
    ),
})
const photos = usePhotos(props.sheetId)
const { list, view, chosen, photo, how, measured, found } = photos
const { upload, standIn, discard, accept } = photos
const locked = computed(() => Boolean(sheet.data.value?.finished_at))
const taken = computed(() => photo.value?.accepted.at(-1))
const fault = computed(
  () =>
    upload.error.value ??
    standIn.error.value ??
    discard.error.value ??
    accept.error.value ??
    measured.error.value,
)
const VIEWS: [View, string][] = [
  ['side', 'from the side: outline and edge'],
  ['heel', 'from the heel: the section'],
]
function look(to: View): void {
  chosen.value = null
  view.value = to
  accept.reset()
}

/** Two points and a distance, while they are being picked. */
const picking = ref<{ first?: Pixel; second?: Pixel } | null>(null)
const apart = ref('')
watch(
  () => photo.value?.id,
  () => ((picking.value = null), accept.reset()),
)
function pick(at: Pixel): void {
  const now = picking.value ?? {}
  picking.value = now.first && !now.second ? { ...now, second: at } : { first: at }
}
const known = computed<KnownIn | null>(() => {
  const mm = Number(apart.value.replace(',', '.'))
  const { first, second } = picking.value ?? {}
  return first && second && mm >= 10 && mm <= 1000
    ? { first, second, apart_mm: mm, apart_u_mm: 0.3 }
    : null
})
function goByPoints(): void {
  photos.setKnown(known.value)
  picking.value = null
}

const number = (event: Event): number | null => {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  const value = Number(text)
  return text && Number.isFinite(value) && value > 0 ? value : null
}
const moved = computed(() => Boolean(how.value.points))
</script>

<template>
  <StateNote
    v-if="!sheet.data.value || !list.data.value"
    :error="sheet.error.value ?? list.error.value"
    waiting="Getting the photos of this sheet…"
    :retry="() => (sheet.refetch(), list.refetch())"
  />
  <div v-else>
    <nav class="tabs" aria-label="Views">
      <button
        v-for="[key, label] in VIEWS"
        :key="key"
        type="button"
        class="plain"
        :class="{ on: view === key }"
        :aria-pressed="view === key"
        @click="look(key)"
      >
        {{ label }}
      </button>
      <span class="soft name">{{ sheet.data.value.piece.name }}</span>
      <RouterLink class="back" :to="`/bench/${sheetId}`">back to the Bench</RouterLink>
    </nav>
    <p v-if="locked" class="rust small">
      ⚠ This sheet is signed off; its photos can be looked at, and nothing is taken over from them.
    </p>
    <p v-if="fault" class="rust" role="alert"><strong>⚠</strong> {{ fault.message }}</p>

    <PhotoStart
      v-if="!photo"
      :view="view"
      :busy="upload.isPending.value || standIn.isPending.value"
      :locked="locked"
      :short="false"
      @file="upload.mutate"
      @stand-in="standIn.mutate"
    />
    <div v-else class="desk">
      <div class="left">
        <PhotoCanvas
          :photo="photo"
          :found="found"
          :known="picking"
          :tall="view === 'heel'"
          :locked="locked"
          @moved="photos.movePoints"
          @pick="pick"
        />
        <p v-if="measured.isFetching.value && !found" class="soft" role="status">
          Looking for card and blade…
        </p>
        <PhotoProfile v-if="found?.profile" :profile="found.profile" :heights="found.heights" />
        <figure v-if="found?.end" class="end">
          <BladeSection
            :sections="[
              { polygon: found.end.measured },
              {
                polygon: found.end.fitted,
                style: { colour: 'var(--derived)', dash: '5 3' },
              },
            ]"
          />
          <figcaption class="small">
            <b>{{ found.end.verdict }}.</b> Seen up to {{ rounded(found.end.reach_mm, 1) }} mm, a
            pixel is {{ rounded(found.end.pixel_um, 0) }} µm; the fitted line (dashed) misses by
            {{ rounded(found.end.rms_um, 0) }} µm. Fitted angle
            {{ rounded(found.end.angle_per_side_deg, 0) }}° per side.
            <ul v-if="Object.keys(found.end.unresolved).length" class="unresolved">
              <li v-for="(why, what) in found.end.unresolved" :key="what">
                <b>cannot resolve {{ what }}:</b> {{ why }}
              </li>
            </ul>
          </figcaption>
        </figure>
      </div>

      <aside class="right" aria-label="What the photo gives">
        <section v-if="found?.refused && !picking" class="refused" role="alert">
          <h2>⚠ {{ labelOf('Trouble', found.refused.trouble) }}</h2>
          <p>
            {{ found.refused.why }}
            <span v-if="found.refused.seen" class="soft">({{ found.refused.seen }})</span>
          </p>
          <p><b>What to change:</b> {{ found.refused.change }}</p>
        </section>
        <p v-if="found?.card" class="small card">
          <span class="grade-M">●</span> {{ found.card.label }} card,
          {{ found.card.markers_seen }} of {{ found.card.markers }} markers,
          {{ rounded(found.card.tilt_deg, 0) }}° off straight,
          {{ rounded(found.card.px_per_mm, 1) }} pixels a mm
        </p>
        <p v-else-if="how.known && !found?.refused" class="small card">
          <span class="rust">▲</span> by two points {{ how.known.apart_mm }} mm apart, without a
          card
        </p>

        <fieldset v-if="picking" class="two-points">
          <legend>Two points a known distance apart</legend>
          <label>
            distance
            <input v-model="apart" inputmode="decimal" aria-label="Distance in mm" /> mm
          </label>
          <v-btn color="primary" variant="flat" :disabled="!known" @click="goByPoints">
            Measure with these points
          </v-btn>
          <v-btn variant="text" @click="picking = null">Cancel</v-btn>
        </fieldset>

        <template v-if="found && !found.refused && !picking">
          <p class="settings small">
            <label v-if="found.card" :class="{ rust: !how.ruler_mm }">
              {{ how.ruler_mm ? 'ruler line' : '▲ ruler line, not yet checked' }}
              <input
                :value="how.ruler_mm ?? ''"
                inputmode="decimal"
                aria-label="Ruler line as printed, mm"
                :placeholder="String(found.card.ruler_mm)"
                @change="photos.setRuler(number($event))"
              />
              mm
            </label>
            <label v-if="view === 'side'">
              blade above the card
              <input
                :value="how.stand_off_mm || ''"
                inputmode="decimal"
                aria-label="Blade above the card, mm"
                placeholder="0"
                @change="how = { ...how, stand_off_mm: Math.min(number($event) ?? 0, 30) }"
              />
              mm
            </label>
          </p>
          <PhotoValues
            :found="found"
            :side="view === 'side'"
            :locked="locked"
            :busy="accept.isPending.value"
            @accept="accept.mutate"
          />
          <p v-if="taken" class="taken" role="status">
            <b class="grade-M">✓ Stored:</b>
            {{ Object.keys(taken.readings).length }} readings<template v-if="taken.edge_kept">
              and the edge</template
            >. <RouterLink :to="`/bench/${sheetId}`">See them at the Bench</RouterLink>,
            <RouterLink :to="`/sheet/${sheet.data.value.piece.id}`">on the Sheet</RouterLink>.
          </p>
          <ul class="notes small soft">
            <li v-for="note in found.notes" :key="note">{{ note }}</li>
          </ul>
        </template>

        <p class="after small">
          <button v-if="moved" type="button" class="plain link" @click="photos.movePoints(null)">
            back to the proposed points
          </button>
          <button
            v-if="found?.points && !found.points.butt && !locked"
            type="button"
            class="plain link"
            @click="photos.movePoints({ butt: [0.02 * photo.width_px, found.points.heel[1] ?? 0] })"
          >
            mark the end of the handle
          </button>
          <button v-if="how.known" type="button" class="plain link" @click="photos.setKnown(null)">
            find the card again
          </button>
          <button
            v-else-if="view === 'side' && !picking && !locked"
            type="button"
            class="plain link"
            @click="picking = {}"
          >
            use two points instead
          </button>
          <button
            v-if="!photo.accepted.length && !locked"
            type="button"
            class="plain link"
            @click="discard.mutate(photo.id)"
          >
            delete this photo
          </button>
        </p>
        <details class="another">
          <summary class="small">another photo</summary>
          <PhotoStart
            :view="view"
            :busy="upload.isPending.value || standIn.isPending.value"
            :locked="locked"
            short
            @file="upload.mutate"
            @stand-in="standIn.mutate"
          />
          <p v-if="list.data.value.length > 1" class="small">
            <button
              v-for="(p, i) in list.data.value"
              :key="p.id"
              type="button"
              class="plain link older"
              :aria-current="p.id === photo.id || undefined"
              @click="chosen = p.id"
            >
              {{ list.data.value.length - i }} {{ p.view === 'side' ? 'side' : 'heel'
              }}{{ p.accepted.length ? ' ✓' : '' }}
            </button>
          </p>
        </details>
      </aside>
    </div>
  </div>
</template>

<style scoped>
.name {
  margin-left: auto;
}

.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  gap: 8px 28px;
  padding-top: 14px;
}

.refused {
  border-left: 3px solid var(--rust);
  padding: 4px 14px;
  background: var(--panel);
}

.refused h2 {
  padding-top: 6px;
  color: var(--rust);
  border: 0;
}

.card {
  margin: 0 0 6px;
}

.settings {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 0 0 8px;
}

.settings input,
.two-points input {
  width: 62px;
}

.two-points {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  border: 1px solid var(--hairline);
}

.taken {
  border-left: 3px solid var(--measured);
  padding: 4px 12px;
  background: var(--panel);
}

.notes {
  padding-left: 18px;
}

.after {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}

.older {
  margin-right: 12px;
}

.older[aria-current] {
  font-weight: 600;
  text-decoration: none;
}

.end {
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  gap: 18px;
  margin: 12px 0 0;
}

.unresolved {
  padding-left: 18px;
  margin: 8px 0 0;
}

@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}

@media (max-width: 699px) {
  .end {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
