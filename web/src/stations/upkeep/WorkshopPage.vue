<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { reactive, watch } from 'vue'
import { api, data } from '@/api/client'
import { may } from '@/api/session'
import type { WorkshopOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import { useWrite } from './care'
import { dayText } from '@/parts/moments'

/** What the shop sharpens with, what its time costs, and when it calls a blade due. */
const key = () => ['upkeep', 'workshop']
const query = useQuery({
  queryKey: key(),
  queryFn: () => data(api.GET('/api/upkeep/workshop')),
})
const shop = reactive({
  spacers: [] as { name: string; thickness: string }[],
  stones: [] as { grit: string; rate: string; scratch: string }[],
  rate: '0',
  charge: '0',
  thicker: '0.1',
  proud: '0.3',
  worn: '20',
})
watch(
  () => query.data.value,
  (now) => now && fill(now),
  { immediate: true },
)
function fill(now: WorkshopOut): void {
  shop.spacers = now.spacers.map((s) => ({ name: s.name, thickness: String(s.thickness_mm) }))
  shop.stones = now.stones.map((s) => ({
    grit: String(s.grit),
    rate: String(s.rate_mm3_min),
    scratch: String(s.scratch_um),
  }))
  shop.rate = String(now.hourly_rate)
  shop.charge = String(now.sharpening_charge)
  shop.thicker = String(now.limits.thicker_mm)
  shop.proud = String(now.limits.proud_mm)
  shop.worn = String(Math.round(1000 * now.limits.worn_share) / 10)
}
const number = (text: string) => Number(text.trim().replace(',', '.') || NaN)
const keep = useWrite(
  () =>
    data(
      api.POST('/api/upkeep/workshop', {
        params: { header: { 'If-Match': query.data.value?.etag ?? '' } },
        body: {
          spacers: shop.spacers.map((s) => ({ name: s.name, thickness_mm: number(s.thickness) })),
          stones: shop.stones.map((s) => ({
            grit: number(s.grit),
            rate_mm3_min: number(s.rate),
            scratch_um: number(s.scratch),
          })),
          hourly_rate: number(shop.rate),
          sharpening_charge: number(shop.charge),
          limits: {
            thicker_mm: number(shop.thicker),
            proud_mm: number(shop.proud),
            worn_share: number(shop.worn) / 100,
          },
        },
      }),
    ),
  key,
)
</script>

<template>
  <StateNote
    v-if="!query.data.value"
    :error="query.error.value"
    waiting="Opening the drawer…"
    :retry="() => query.refetch()"
  />
  <form v-else class="workshop" @submit.prevent="keep.mutate(undefined)">
    <p><RouterLink to="/upkeep">Back to Upkeep</RouterLink></p>
    <fieldset class="bare" :disabled="!may('set')">
      <div class="columns">
        <section aria-label="Spacers">
          <h2>Spacers</h2>
          <p class="soft small">What you put under the spine: shims, coins. Thickness in mm.</p>
          <div v-for="(s, i) in shop.spacers" :key="i" class="row">
            <v-text-field v-model="s.name" label="name" maxlength="40" />
            <v-text-field v-model="s.thickness" label="mm" inputmode="decimal" class="short" />
            <button type="button" class="plain soft" @click="shop.spacers.splice(i, 1)">
              remove
            </button>
          </div>
          <v-btn
            v-if="shop.spacers.length < 10"
            @click="shop.spacers.push({ name: '', thickness: '' })"
            >Another spacer</v-btn
          >
        </section>
        <section aria-label="Stones">
          <h2>Stones</h2>
          <p class="soft small">
            Steel each takes on a grade of medium ease, and how deep it scratches. Assumed until you
            time your own.
          </p>
          <div v-for="(s, i) in shop.stones" :key="i" class="row">
            <v-text-field v-model="s.grit" label="grit" inputmode="numeric" class="short" />
            <v-text-field v-model="s.rate" label="mm³ a minute" inputmode="decimal" />
            <v-text-field v-model="s.scratch" label="scratch, µm" inputmode="decimal" />
            <button
              v-if="shop.stones.length > 1"
              type="button"
              class="plain soft"
              @click="shop.stones.splice(i, 1)"
            >
              remove
            </button>
          </div>
          <v-btn
            v-if="shop.stones.length < 10"
            @click="shop.stones.push({ grit: '', rate: '', scratch: '' })"
            >Another stone</v-btn
          >
        </section>
        <section aria-label="Time and limits">
          <h2>Time and limits</h2>
          <v-text-field
            v-model="shop.rate"
            :label="`hourly rate, ${query.data.value.currency}`"
            inputmode="decimal"
          />
          <v-text-field
            v-model="shop.charge"
            :label="`charge for a sharpening, ${query.data.value.currency}`"
            inputmode="decimal"
          />
          <v-text-field
            v-model="shop.thicker"
            label="thinning due, mm thicker"
            inputmode="decimal"
          />
          <v-text-field v-model="shop.proud" label="bolster filed, mm proud" inputmode="decimal" />
          <v-text-field v-model="shop.worn" label="worn out, % of the height" inputmode="decimal" />
        </section>
      </div>
    </fieldset>
    <p v-if="keep.error.value" class="rust" role="alert">⚠ {{ keep.error.value.message }}</p>
    <p class="buttons">
      <v-btn
        v-needs="'set'"
        type="submit"
        color="primary"
        variant="flat"
        :loading="keep.isPending.value"
      >
        Save the workshop
      </v-btn>
      <span v-if="query.data.value.recorded_at" class="soft small">
        Version {{ query.data.value.version }}, set {{ dayText(query.data.value.recorded_at) }} by
        {{ query.data.value.person }}
      </span>
    </p>
  </form>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 4fr 5fr 3fr;
  gap: 36px;
}

.row {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}

.short {
  max-width: 90px;
}

section > .v-input {
  margin-bottom: 10px;
}

p {
  margin: 2px 0 8px;
}

@media (max-width: 699px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    gap: 12px;
  }
}
</style>
