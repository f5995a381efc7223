<script setup lang="ts">
import { me } from '@/api/session'
import SignInForm from './SignInForm.vue'
</script>

<template>
  <v-dialog :model-value="true" persistent max-width="400" aria-labelledby="again">
    <div class="dialog-panel">
      <h2 id="again">Signed out</h2>
      <p>
        Your sign-in ended. What you entered is still here, and goes on being sent once you are
        back.
      </p>
      <SignInForm :known="me?.name" />
      <p class="soft small">Somebody else who signs in here begins afresh.</p>
    </div>
  </v-dialog>
</template>
