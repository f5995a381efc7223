<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { Problem } from '@/api/client'
import { signIn } from '@/api/session'

/** Name and password. Who is `known` already gives the password only. */
const props = defineProps<{ known?: string }>()

const name = ref(props.known ?? '')
const password = ref('')
const code = ref('')
/** Name and password were right, and a code is wanted besides. */
const wantsCode = ref(false)
const enter = useMutation({
  mutationFn: ([who, secret]: [string, string]) => signIn(who, secret, code.value.trim()),
  onError: (error) => {
    code.value = ''
    if (error instanceof Problem && error.kind === 'code-needed') wantsCode.value = true
    else if (!wantsCode.value) password.value = ''
  },
})
const refused = computed(() => {
  const error = enter.error.value
  return error instanceof Problem && error.kind === 'code-needed' ? null : error
})
defineExpose({ enter })
</script>

<template>
  <form class="fields" @submit.prevent="enter.mutate([name.trim(), password])">
    <v-text-field
      v-model="name"
      v-focus="!known"
      label="Name"
      name="username"
      autocomplete="username"
      maxlength="80"
    />
    <v-text-field
      v-model="password"
      v-focus="Boolean(known)"
      label="Password"
      name="password"
      type="password"
      autocomplete="current-password"
      maxlength="200"
    />
    <v-text-field
      v-if="wantsCode"
      v-model="code"
      v-focus
      label="Code from your authenticator app, or a recovery code"
      name="code"
      inputmode="numeric"
      autocomplete="one-time-code"
      maxlength="20"
    />
    <p v-if="refused" class="rust" role="alert">⚠ {{ refused.message }}</p>
    <v-btn
      type="submit"
      color="primary"
      variant="flat"
      :disabled="!name.trim() || !password || (wantsCode && code.trim().length < 6)"
      :loading="enter.isPending.value"
    >
      Sign in
    </v-btn>
  </form>
</template>
