<script setup lang="ts">
/** Says that pieces are still being worked out; nothing where none are. */
defineProps<{ behind?: number }>()
</script>

<template>
  <p v-if="behind" class="behind small" role="status">
    <template v-if="behind === 1">
      1 knife is still to be worked out; until then it counts as it was known before.
    </template>
    <template v-else>
      {{ behind.toLocaleString('en') }} knives are still to be worked out; until then they count as
      they were known before.
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
