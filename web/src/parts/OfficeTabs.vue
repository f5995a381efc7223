<script setup lang="ts">
import { computed } from 'vue'
import { may } from '@/api/session'
import type { May } from '@/api/schema'

/** The rooms of the office, as far as one is let in. */
const ROOMS: { path: string; name: string; needs: May }[] = [
  { path: '/office', name: 'Coefficients', needs: 'look' },
  { path: '/office/repeatability', name: 'Repeatability', needs: 'look' },
  { path: '/office/shop', name: 'Shop', needs: 'look' },
  { path: '/office/models', name: 'Models', needs: 'look' },
  { path: '/office/pages', name: 'Pages', needs: 'look' },
  { path: '/office/in', name: 'Import', needs: 'bring_in' },
  { path: '/office/out', name: 'Export', needs: 'take_out' },
  { path: '/office/work', name: 'Tasks', needs: 'look' },
  { path: '/office/people', name: 'People', needs: 'govern' },
  { path: '/office/changes', name: 'Changes', needs: 'govern' },
  { path: '/office/me', name: 'Yourself', needs: 'self' },
]
const open = computed(() => ROOMS.filter((room) => may(room.needs)))
</script>

<template>
  <nav class="tabs no-print" aria-label="Office">
    <RouterLink
      v-for="room in open"
      :key="room.path"
      :to="room.path"
      class="room"
      exact-active-class="on"
    >
      {{ room.name }}
    </RouterLink>
  </nav>
</template>

<style scoped>
.tabs {
  margin-bottom: 14px;
}
</style>
