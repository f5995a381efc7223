<script setup lang="ts">
import { me } from '@/api/session'
import SignInForm from './SignInForm.vue'
</script>

<template>
  <v-dialog :model-value="true" persistent max-width="400" aria-labelledby="again">
    <div class="dialog-panel">
      <h2 id="again">Signed out</h2>
      <p>
        You have been signed out. What you entered is still here and is sent once you sign in again.
      </p>
      <SignInForm :known="me?.name" />
      <p class="soft small">If somebody else signs in here, they begin with a clean page.</p>
    </div>
  </v-dialog>
</template>
