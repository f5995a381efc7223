<script setup lang="ts">
import type { ReleasePartOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'

/** What the release index is made of. */
defineProps<{ parts: ReleasePartOut[] }>()
</script>

<template>
  <table class="parts small" aria-label="Parts of the release index">
    <tbody>
      <tr v-for="part in parts" :key="part.label">
        <td class="soft">{{ part.label }}</td>
        <td class="bar" aria-hidden="true">
          <span class="of" :style="{ width: `${part.of * 2}%` }">
            <span class="won" :style="{ width: `${(100 * part.points) / part.of}%` }" />
          </span>
        </td>
        <td class="number">{{ rounded(part.points, 0) }} of {{ rounded(part.of, 0) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.parts td {
  border: 0;
  padding: 1px 10px 1px 0;
}

.bar {
  width: 45%;
}

.of {
  display: block;
  height: 8px;
  border: 1px solid var(--hairline);
}

.won {
  display: block;
  height: 100%;
  background: var(--predicted);
}
</style>
