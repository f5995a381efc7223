<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import { askSession, may, nothing, withPassword } from '@/api/session'
import type { BegunOut, TwoStepOut } from '@/api/schema'
import ShownOnce from './ShownOnce.vue'

/** The second step of signing in: added, renewed, taken away, asked of all owners. */
defineProps<{ mine?: boolean }>()
const client = useQueryClient()
const queryKey = ['two-step']
const state = useQuery({ queryKey, queryFn: () => data(api.GET('/api/two-step')) })
const isOn = computed(() => Boolean(state.data.value?.since))

const begun = ref<BegunOut | null>(null)
const code = ref('')
const codes = ref<string[]>([])
/** Two in a line, to be copied or written down. */
const shown = computed(() =>
  codes.value
    .map((one, i) => one + (i % 2 ? '\n' : '   '))
    .join('')
    .trim(),
)

const act = useMutation({
  mutationFn: (work: () => Promise<unknown>) => work(),
  onSettled: () => client.invalidateQueries({ queryKey }),
})
const begin = () =>
  act.mutate(async () => {
    begun.value = await withPassword(() => data(api.POST('/api/two-step')))
  })
const confirm = () =>
  act.mutate(async () => {
    const body = { code: code.value }
    codes.value = (await data(api.POST('/api/two-step/confirm', { body }))).codes
    begun.value = null
    code.value = ''
  })
const renew = () =>
  act.mutate(async () => {
    codes.value = (await withPassword(() => data(api.POST('/api/two-step/codes')))).codes
  })
const end = () => act.mutate(() => withPassword(() => nothing(api.DELETE('/api/two-step'))))
const askOwners = (asked: boolean) =>
  act.mutate(() =>
    withPassword(() => data<TwoStepOut>(api.PUT('/api/two-step/owners', { body: { asked } }))),
  )
/** The codes are noted: an owner who had to add the step may go on. */
function noted(): void {
  codes.value = []
  void askSession()
}
</script>

<template>
  <section aria-labelledby="two-step">
    <h2 id="two-step">Second step</h2>
    <p class="soft small">
      {{
        isOn
          ? 'On: signing in asks for a code from your authenticator app after the password.'
          : 'After the password, signing in then asks for a code from an authenticator app on your phone, so a stolen password alone is not enough.'
      }}
    </p>
    <form v-if="begun" class="fields" @submit.prevent="confirm">
      <img :src="begun.picture" alt="QR code for your authenticator app" />
      <p class="small">
        Show the authenticator this picture, or type <code class="secret">{{ begun.secret }}</code>.
        Then give the code that it shows.
      </p>
      <v-text-field
        v-model="code"
        v-focus
        label="Code"
        inputmode="numeric"
        autocomplete="one-time-code"
        maxlength="20"
      />
      <p class="buttons">
        <v-btn
          type="submit"
          color="primary"
          variant="flat"
          :disabled="code.trim().length < 6"
          :loading="act.isPending.value"
        >
          Turn on
        </v-btn>
        <v-btn variant="text" @click="begun = null">Cancel</v-btn>
      </p>
    </form>
    <ShownOnce v-if="codes.length" :value="shown" :rows="5" label="Recovery codes" @done="noted">
      Two-step sign-in is on. Keep these codes away from the phone: each signs you in once if the
      phone is lost. They are shown only now.
    </ShownOnce>
    <p v-else-if="isOn" class="buttons">
      <v-btn @click="renew">New recovery codes ({{ state.data.value?.codes_left }} left)</v-btn>
      <v-btn v-if="!state.data.value?.asked" @click="end">Turn off</v-btn>
    </p>
    <p v-else-if="!begun && state.data.value"><v-btn @click="begin">Add a second step</v-btn></p>
    <p v-if="!mine && may('govern') && state.data.value && !begun" class="duty">
      <label>
        <input
          type="checkbox"
          :checked="state.data.value.asked"
          :disabled="!isOn"
          @change="askOwners(($event.target as HTMLInputElement).checked)"
        />
        Require it of every owner
      </label>
    </p>
    <p v-if="act.error.value" class="rust" role="alert">⚠ {{ act.error.value.message }}</p>
  </section>
</template>

<style scoped>
img {
  width: 190px;
  display: block;
  border-radius: 4px;
}

.secret {
  overflow-wrap: anywhere;
}

.duty label {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
