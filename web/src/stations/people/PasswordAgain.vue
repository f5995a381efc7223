<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'
import { givePassword, me, passwordAsked } from '@/api/session'
import UsernameField from './UsernameField.vue'

/** Asks for the password before something grave is done; what was begun then goes on. */
const password = ref('')
const give = useMutation({
  mutationFn: givePassword,
  onError: () => (password.value = ''),
})
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="400"
    aria-labelledby="password-again"
    @update:model-value="passwordAsked?.(false)"
  >
    <form class="dialog-panel fields" @submit.prevent="give.mutate(password)">
      <h2 id="password-again">Confirm your password</h2>
      <p>You are about to change who can sign in.</p>
      <UsernameField :name="me?.name" />
      <v-text-field
        v-model="password"
        v-focus
        label="Password"
        type="password"
        autocomplete="current-password"
        maxlength="200"
      />
      <p v-if="give.error.value" class="rust" role="alert">⚠ {{ give.error.value.message }}</p>
      <p class="buttons">
        <v-btn
          type="submit"
          color="primary"
          variant="flat"
          :disabled="!password"
          :loading="give.isPending.value"
        >
          Continue
        </v-btn>
        <v-btn variant="text" @click="passwordAsked?.(false)">Cancel</v-btn>
      </p>
    </form>
  </v-dialog>
</template>
