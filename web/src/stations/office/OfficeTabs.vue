<script setup lang="ts">
/** The rooms of the office. */
const ROOMS = [
  { path: '/office', name: 'Coefficients' },
  { path: '/office/in', name: 'Bring in' },
  { path: '/office/out', name: 'Take out' },
] as const
</script>

<template>
  <nav class="tabs no-print" aria-label="Office">
    <RouterLink
      v-for="room in ROOMS"
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
