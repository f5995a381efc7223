<script setup lang="ts">
import { mdiThemeLightDark } from '@mdi/js'
import { scheme, switchScheme } from '@/theme/scheme'

/** The page before the shop: the rail without a knife on it, and one panel. */
defineProps<{ title: string; shop?: string }>()
</script>

<template>
  <div class="door">
    <div class="rail" aria-hidden="true"><i></i><i></i></div>
    <main id="content">
      <p v-if="shop" class="shop soft">{{ shop }}</p>
      <h1>{{ title }}</h1>
      <slot />
    </main>
    <button
      type="button"
      class="plain scheme soft small"
      :aria-label="scheme === 'maple' ? 'Switch to the dark scheme' : 'Switch to the light scheme'"
      @click="switchScheme"
    >
      <svg viewBox="0 0 24 24" aria-hidden="true"><path :d="mdiThemeLightDark" /></svg>
      {{ scheme === 'maple' ? 'Dark' : 'Light' }}
    </button>
  </div>
</template>

<style scoped>
.door {
  min-height: 100vh;
  display: flex;
  flex-direction: column;
  align-items: center;
  padding: 0 16px 24px;
}

.rail {
  align-self: stretch;
  margin: 0 -16px;
  height: 68px;
  background: var(--strip);
  border-bottom: 1px solid var(--strip-line);
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0 28px;
}

.rail i {
  width: 11px;
  height: 11px;
  border-radius: 50%;
  background: var(--strip-line);
  box-shadow: inset 0 0 0 1px var(--strip-soft);
}

main {
  width: 100%;
  max-width: 440px;
  margin-top: min(9vh, 80px);
}

h1 {
  font-size: var(--size-xxl);
  margin-bottom: 18px;
}

.shop {
  margin: 0 0 2px;
}

.scheme {
  margin-top: auto;
  padding-top: 24px;
  display: flex;
  gap: 6px;
  align-items: center;
}

.scheme svg {
  width: 18px;
  fill: currentColor;
}
</style>
