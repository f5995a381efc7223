<script setup lang="ts">
/** Says that pieces are still being calculated; nothing where none are. */
defineProps<{ behind?: number }>()
</script>

<template>
  <p v-if="behind" class="behind small" role="status">
    <template v-if="behind === 1">
      1 knife is still being recalculated. Until then, its previous figures are shown.
    </template>
    <template v-else>
      {{ behind.toLocaleString('en') }} knives are still being recalculated. Until then, their
      previous figures are shown.
    </template>
    <RouterLink to="/office/work">How far it is</RouterLink>
  </p>
</template>

<style scoped>
.behind {
  margin: 0 0 8px;
  padding: 6px 10px;
  border-left: 3px solid var(--measured);
  background: var(--panel);
}
</style>
