<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, data } from '@/api/client'
import { askSession, nothing } from '@/api/session'
import StateNote from '@/parts/StateNote.vue'
import FrontDoor from './FrontDoor.vue'
import UsernameField from './UsernameField.vue'
import { inWords } from './roles'

/** Where an invitation leads: a password, and for the first owner the shop's name. */
const route = useRoute()
const router = useRouter()
const token = computed(() => route.hash.slice(1))
const found = useQuery({
  queryKey: ['invitation', token],
  queryFn: () => data(api.POST('/api/invitation', { body: { token: token.value || '-' } })),
  retry: false,
})
const form = reactive({ name: '', shop: '', place: '', currency: '', password: '', again: '' })
const first = computed(() => found.data.value?.first ?? false)
const differs = computed(() => form.again !== '' && form.again !== form.password)
const short = computed(() => form.password.length < 12)
const join = useMutation({
  mutationFn: async () => {
    const own = first.value
      ? {
          name: form.name.trim(),
          shop: form.shop.trim(),
          place: form.place.trim() || null,
          currency: form.currency.trim() || null,
        }
      : {}
    const body = { token: token.value, password: form.password, ...own }
    await nothing(api.POST('/api/invitation/accept', { body }))
    await askSession()
  },
  onSuccess: () => router.replace('/'),
})
const ready = computed(
  () =>
    !short.value &&
    form.again === form.password &&
    (!first.value || Boolean(form.name.trim() && form.shop.trim())),
)
</script>

<template>
  <FrontDoor
    :title="first ? 'Open your shop' : 'Join the shop'"
    :shop="first ? undefined : found.data.value?.shop"
  >
    <StateNote
      v-if="!found.data.value"
      :error="found.error.value"
      waiting="Looking at the invitation…"
    />
    <form v-else class="fields" @submit.prevent="join.mutate()">
      <p v-if="first" class="soft">
        You become its owner: you invite the others and see who changed what.
      </p>
      <p v-else>
        {{ found.data.value.name }},
        <span class="soft">{{ inWords(found.data.value.role) }}</span>
      </p>
      <template v-if="first">
        <v-text-field v-model="form.shop" v-focus label="Name of the shop" maxlength="80" />
        <div class="two">
          <v-text-field v-model="form.place" label="Place" maxlength="80" />
          <v-text-field v-model="form.currency" label="Currency" maxlength="12" />
        </div>
        <v-text-field
          v-model="form.name"
          label="Your name"
          autocomplete="username"
          maxlength="80"
        />
      </template>
      <UsernameField v-else :name="found.data.value.name" />
      <v-text-field
        v-model="form.password"
        label="A password, 12 characters or more"
        type="password"
        autocomplete="new-password"
        maxlength="200"
      />
      <v-text-field
        v-model="form.again"
        label="Repeat the password"
        type="password"
        autocomplete="new-password"
        maxlength="200"
        :error-messages="differs ? ['The passwords differ'] : []"
      />
      <p v-if="join.error.value" class="rust" role="alert">⚠ {{ join.error.value.message }}</p>
      <v-btn
        type="submit"
        color="primary"
        variant="flat"
        :disabled="!ready"
        :loading="join.isPending.value"
      >
        {{ first ? 'Open the shop' : 'Join the shop' }}
      </v-btn>
    </form>
  </FrontDoor>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 2fr 1fr;
  gap: 12px;
}
</style>
