<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted } from 'vue'
import { useRoute } from 'vue-router'
import { askSession, me, session, trouble } from './api/session'
import StateNote from './parts/StateNote.vue'
import ShopShell from './stations/people/ShopShell.vue'

const JoinPage = defineAsyncComponent(() => import('./stations/people/JoinPage.vue'))
const SecondStepPage = defineAsyncComponent(() => import('./stations/people/SecondStepPage.vue'))
const SignInPage = defineAsyncComponent(() => import('./stations/people/SignInPage.vue'))
const route = useRoute()
const joining = computed(() => route.path === '/join')
onMounted(askSession)
</script>

<template>
  <v-app>
    <JoinPage v-if="joining" />
    <SecondStepPage v-else-if="me?.owes_second_step" />
    <ShopShell v-else-if="me" />
    <SignInPage v-else-if="session" />
    <main v-else class="opening">
      <StateNote
        :error="trouble ? new Error(trouble) : null"
        waiting="Opening the shop…"
        :retry="askSession"
      />
    </main>
  </v-app>
</template>

<style scoped>
.opening {
  max-width: 420px;
  margin: 12vh auto 0;
  padding: 0 16px;
}
</style>
