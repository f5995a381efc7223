<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'
import { signIn } from '@/api/session'

/** Name and password. Who is `known` already gives the password only. */
const props = defineProps<{ known?: string }>()

const name = ref(props.known ?? '')
const password = ref('')
const enter = useMutation({
  mutationFn: ([who, secret]: [string, string]) => signIn(who, secret),
  onError: () => (password.value = ''),
})
defineExpose({ enter })
</script>

<template>
  <form class="fields" @submit.prevent="enter.mutate([name.trim(), password])">
    <v-text-field
      v-model="name"
      label="Name"
      name="username"
      autocomplete="username"
      maxlength="80"
      :autofocus="!known"
    />
    <v-text-field
      v-model="password"
      label="Password"
      name="password"
      type="password"
      autocomplete="current-password"
      maxlength="200"
      :autofocus="Boolean(known)"
    />
    <p v-if="enter.error.value" class="rust" role="alert">⚠ {{ enter.error.value.message }}</p>
    <v-btn
      type="submit"
      color="primary"
      variant="flat"
      :disabled="!name.trim() || !password"
      :loading="enter.isPending.value"
    >
      Sign in
    </v-btn>
  </form>
</template>
