<script setup lang="ts">
import { offline } from './queue'

/** The foot of the Bench: keys, whether everything is stored, and signing off. */
defineProps<{ waiting: number; stuck: number; missing: number; signedOff: boolean }>()
defineEmits<{ signOff: []; open: [] }>()
</script>

<template>
  <footer class="tray">
    <p class="keys soft small">
      <kbd>Enter</kbd> store, next <kbd>R</kbd> again <kbd>U</kbd> unit <kbd>⌫</kbd> void last
      <kbd>↑</kbd><kbd>↓</kbd> move <kbd>?</kbd> keys
    </p>
    <p class="state" role="status">
      <span v-if="offline" class="rust">
        ⚠ The server does not answer. {{ waiting }} kept here, sent when it is back.
      </span>
      <span v-else-if="waiting">{{ waiting }} on the way</span>
      <span v-else-if="stuck" class="rust">⚠ {{ stuck }} not stored, see above</span>
      <span v-else class="grade-M">All readings stored</span>
    </p>
    <v-btn v-if="signedOff" @click="$emit('open')">Signed off · open the Sheet</v-btn>
    <v-btn
      v-else
      color="primary"
      variant="flat"
      :disabled="waiting + stuck > 0"
      @click="$emit('signOff')"
    >
      Sign off{{ missing ? ` (${missing} missing)` : '' }}
    </v-btn>
  </footer>
</template>

<style scoped>
.tray {
  position: fixed;
  left: 76px;
  right: 0;
  bottom: 0;
  min-height: 60px;
  padding: 8px 20px;
  display: flex;
  align-items: center;
  gap: 20px;
  border-top: 1px solid var(--hairline);
  background: var(--panel);
  z-index: 4;
}

p {
  margin: 0;
}

.state {
  margin-left: auto;
}

@media (max-width: 699px) {
  .tray {
    left: 0;
    bottom: 58px;
    min-height: 0;
  }

  .keys {
    display: none;
  }
}
</style>
