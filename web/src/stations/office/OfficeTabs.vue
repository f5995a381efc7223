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

.room {
  padding: 8px 0 6px;
  color: var(--soft-ink);
  text-decoration: none;
}

.room.on {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -3px 0 var(--measured);
}
</style>
