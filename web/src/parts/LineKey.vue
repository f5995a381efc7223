<script setup lang="ts">
/** What the lines of a chart are, each by its hue and pattern. */
defineProps<{ lines: { name: string; colour: string | undefined; dash: string | undefined }[] }>()
</script>

<template>
  <ul class="key small">
    <li v-for="line in lines" :key="line.name">
      <svg viewBox="0 0 26 10" aria-hidden="true">
        <line x1="1" x2="25" y1="5" y2="5" :stroke="line.colour" :stroke-dasharray="line.dash" />
      </svg>
      {{ line.name }}
    </li>
  </ul>
</template>

<style scoped>
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin: 4px 0;
  padding: 0;
  list-style: none;
}

svg {
  width: 26px;
  height: 10px;
  stroke-width: 2.5;
}
</style>
