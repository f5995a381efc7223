<script setup lang="ts">
import { defineAsyncComponent } from 'vue'
import { me, passwordAsked, session, signOut } from '@/api/session'
import FrontDoor from './FrontDoor.vue'
import TwoStep from './TwoStep.vue'

const PasswordAgain = defineAsyncComponent(() => import('./PasswordAgain.vue'))
</script>

<template>
  <FrontDoor v-if="session" title="One more step" :shop="session.shop">
    <p>{{ me?.name }}, owners of this shop sign in in two steps. Set yours up to continue.</p>
    <TwoStep mine />
    <p><v-btn variant="text" @click="signOut()">Sign out</v-btn></p>
    <PasswordAgain v-if="passwordAsked" />
  </FrontDoor>
</template>
