<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { addressOf } from '@/api/base'
import { api, data, Problem } from '@/api/client'
import type { ShopSettingsIn } from '@/api/schema'
import { may } from '@/api/session'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import StateNote from '@/parts/StateNote.vue'

/** What the shop settles for itself: its name, its money, what its cards look like. */
const queries = useQueryClient()
const query = useQuery({
  queryKey: ['shop-settings'],
  queryFn: () => data(api.GET('/api/shop/settings')),
})
const typed = ref<ShopSettingsIn>({
  ...{ name: '', place: '', currency: '', units: 'metric', paper: 'A4', language: 'en' },
  ...{ public_address: '', opening_words: '', time_zone: 'UTC' },
})
watch(
  () => query.data.value,
  (now) => {
    if (!now) return
    const { name, place, currency, units, paper, language } = now
    const { public_address, opening_words, time_zone } = now
    typed.value = {
      ...{ name, place, currency, units, paper, language },
      ...{ public_address, opening_words, time_zone },
    }
  },
  { immediate: true },
)
const changes = computed(() => {
  const [now, then] = [typed.value, query.data.value]
  return (
    !!now && !!then && Object.entries(now).some(([key, value]) => then[key as 'name'] !== value)
  )
})
const refresh = { onSettled: () => queries.invalidateQueries() }
const save = useMutation({
  mutationFn: (body: ShopSettingsIn) =>
    data(
      api.PUT('/api/shop/settings', {
        params: { header: { 'If-Match': query.data.value?.etag ?? '' } },
        body,
      }),
    ),
  ...refresh,
})
const seen = ref(0)
const give = useMutation({
  mutationFn: (file: File) =>
    data(
      api.PUT('/api/shop/logo', {
        body: file as never,
        bodySerializer: (body) => body as never,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
    ),
  onSuccess: () => (seen.value += 1),
  ...refresh,
})
const drop = useMutation({ mutationFn: () => data(api.DELETE('/api/shop/logo')), ...refresh })
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) give.mutate(file)
}

const UNITS = [
  { value: 'metric', title: 'millimetres and grams' },
  { value: 'imperial', title: 'inches and ounces' },
]
const languages = computed(() =>
  (query.data.value?.languages ?? []).map((l) => ({ value: l.key, title: l.label })),
)
const wrong = computed(() => {
  const error = save.error.value
  const found: Record<string, string> = {}
  for (const { field, message } of error instanceof Problem ? error.errors : [])
    found[field.split('.').at(-1) ?? ''] ??= message
  return found
})
const fails = computed(() => save.error.value ?? give.error.value ?? drop.error.value)
const said = computed(() => {
  const error = fails.value
  return error instanceof Problem && error.errors[0] ? error.errors[0].message : error?.message
})
const mine = computed(() => !may('set'))
</script>

<template>
  <OfficeTabs />
  <StateNote
    v-if="!query.data.value"
    :error="query.error.value"
    waiting="Fetching the shop’s settings…"
    :retry="() => query.refetch()"
  />
  <form v-else class="shop" @submit.prevent="save.mutate(typed)">
    <section>
      <h2>The shop</h2>
      <v-text-field
        v-model="typed.name"
        label="Name"
        maxlength="120"
        :error-messages="wrong.name"
        :readonly="mine"
      />
      <v-text-field v-model="typed.place" label="Place" maxlength="120" :readonly="mine" />
      <v-combobox
        v-model="typed.currency"
        :items="query.data.value?.currencies"
        label="Currency of its prices"
        hint="A code such as EUR, or a word of your own"
        persistent-hint
        maxlength="12"
        :error-messages="wrong.currency"
        :readonly="mine"
      />
      <v-autocomplete
        v-model="typed.time_zone"
        :items="query.data.value?.time_zones"
        label="Time zone"
        :error-messages="wrong.time_zone"
        :readonly="mine"
      />
      <v-select v-model="typed.units" :items="UNITS" label="Units shown first" :readonly="mine" />
      <v-text-field
        v-model="typed.public_address"
        label="Public address"
        placeholder="https://shop.example"
        hint="Where others reach the shop’s pages; codes on cards lead there"
        persistent-hint
        maxlength="200"
        :error-messages="wrong.public_address"
        :readonly="mine"
      />
    </section>
    <section>
      <h2>Its cards and pages</h2>
      <v-select v-model="typed.paper" :items="['A4', 'Letter']" label="Paper" :readonly="mine" />
      <v-select
        v-model="typed.language"
        :items="languages"
        label="Language of printed cards"
        :readonly="mine"
      />
      <v-textarea
        v-model="typed.opening_words"
        label="Opening words"
        placeholder="a sentence or two that every card and page begins with"
        rows="3"
        maxlength="300"
        counter
        :readonly="mine"
      />
      <div class="logo">
        <img
          v-if="query.data.value?.has_logo"
          :src="addressOf(`/api/shop/logo?seen=${seen}`)"
          alt="The shop’s logo"
        />
        <p v-else class="soft">No logo yet: PNG, JPEG or WebP, at most 2 MB.</p>
        <p v-if="!mine" class="buttons">
          <label class="link">
            {{ query.data.value?.has_logo ? 'Another logo' : 'Choose a logo' }}
            <input
              type="file"
              class="visually-hidden"
              accept="image/png,image/jpeg,image/webp"
              @change="chosen"
            />
          </label>
          <button
            v-if="query.data.value?.has_logo"
            type="button"
            class="plain link"
            @click="drop.mutate()"
          >
            remove it
          </button>
        </p>
      </div>
    </section>
    <p class="wide buttons">
      <v-btn
        v-if="!mine"
        type="submit"
        color="primary"
        variant="flat"
        :disabled="!changes"
        :loading="save.isPending.value"
      >
        Save
      </v-btn>
      <span v-if="fails" class="rust" role="alert"><b>⚠ Not saved.</b> {{ said }}</span>
      <span v-else-if="save.isSuccess.value && !changes" class="grade-M" role="status"
        >✓ Saved</span
      >
      <span v-if="mine" class="soft">Only an owner changes these.</span>
    </p>
  </form>
</template>

<style scoped>
.shop {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 40px;
}

section {
  display: grid;
  gap: 14px;
  align-content: start;
}

.wide {
  grid-column: 1 / -1;
}

.buttons label {
  cursor: pointer;
}

.logo {
  border: 1px solid var(--hairline);
  border-radius: 3px;
  padding: 12px;
}

.logo p {
  margin: 0;
}

.logo img {
  display: block;
  max-width: 240px;
  max-height: 96px;
  margin-bottom: 8px;
}

@media (max-width: 799px) {
  .shop {
    grid-template-columns: 1fr;
  }
}
</style>
