<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import type { InstrumentOut } from '@/api/schema'
import { offline } from './queue'

/** The foot of the Bench: instruments, whether everything is stored, and signing off. */
defineProps<{
  instruments: InstrumentOut[]
  device: InstrumentOut | undefined
  waiting: number
  stuck: number
  missing: number
  signedOff: boolean
}>()
defineEmits<{ signOff: []; open: []; take: []; keys: [] }>()

const SIGNS: Record<string, string> = {
  ready: '●',
  silent: '◌',
  garbled: '⚠',
  not_reached: '✕',
}
const short = (name: string) => name.replace(' on the line', '')
const clock = (at: Date) =>
  at.toLocaleTimeString([], {
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    hour12: false,
  })
const overdue = (i: InstrumentOut) => i.overdue_days !== null && i.overdue_days > 0
</script>

<template>
  <footer class="tray">
    <ul class="instruments" aria-label="Instruments">
      <li v-for="i in instruments" :key="i.id" :class="{ fits: i.id === device?.id }">
        <button
          type="button"
          class="plain"
          tabindex="-1"
          :disabled="i.id !== device?.id || signedOff"
          :title="overdue(i) ? `${i.words}; calibration ${i.overdue_days} days overdue` : i.words"
          @click="$emit('take')"
        >
          <span class="name">
            <span :class="i.state === 'ready' ? 'grade-M' : 'rust'" aria-hidden="true">{{
              SIGNS[i.state] ?? '✕'
            }}</span>
            {{ short(i.name) }}
          </span>
          <span class="small soft">
            <span v-if="i.state !== 'ready'" class="rust">{{ labelOf('State', i.state) }}</span>
            <template v-else-if="i.id === device?.id"><kbd>Space</kbd> takes it</template>
            <template v-else-if="!overdue(i)">ready</template>
            <span v-if="overdue(i) && i.state === 'ready'" class="rust"> calibration overdue</span>
          </span>
        </button>
      </li>
      <li v-if="!instruments.length" class="soft small none">
        No instrument on a line; <RouterLink to="/bench/instruments">enter one</RouterLink> or type.
      </li>
    </ul>
    <RouterLink class="small manage" to="/bench/instruments">instruments</RouterLink>
    <button type="button" class="plain small keys" tabindex="-1" @click="$emit('keys')">
      <kbd>?</kbd> keys
    </button>
    <p class="state" role="status">
      <span v-if="offline" class="rust">
        ⚠ The server does not answer since {{ clock(offline) }}. {{ waiting }} kept here.
      </span>
      <span v-else-if="waiting">{{ waiting }} on the way</span>
      <span v-else-if="stuck" class="rust">⚠ {{ stuck }} not stored, see above</span>
      <span v-else class="grade-M">All readings stored</span>
    </p>
    <v-btn v-if="signedOff" @click="$emit('open')">Signed off · open the Sheet</v-btn>
    <v-btn v-else color="primary" variant="flat" :disabled="waiting > 0" @click="$emit('signOff')">
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
  min-height: 64px;
  padding: 6px 20px;
  display: flex;
  align-items: center;
  gap: 16px;
  border-top: 1px solid var(--hairline);
  background: var(--panel);
  z-index: 4;
}

.instruments {
  display: flex;
  gap: 4px;
  list-style: none;
  margin: 0;
  padding: 0;
}

.instruments button {
  display: flex;
  flex-direction: column;
  padding: 4px 10px !important;
  font-size: 14px;
  line-height: 1.3;
  border-left: 1px solid var(--hairline) !important;
}

.instruments .fits {
  background: var(--ground);
}

.instruments .fits .name {
  font-weight: 600;
}

.name {
  white-space: nowrap;
}

.none {
  padding: 8px 0;
}

p {
  margin: 0;
}

.state {
  margin-left: auto;
  text-align: right;
  line-height: 1.25;
}

.instruments .small {
  white-space: nowrap;
}

.keys {
  white-space: nowrap;
}

@media (max-width: 1180px) {
  .manage {
    display: none;
  }
}

@media (max-width: 699px) {
  .tray {
    left: 0;
    bottom: 58px;
    min-height: 0;
    padding: 6px 12px;
    gap: 8px;
  }

  .instruments,
  .instruments li {
    min-width: 0;
  }

  .instruments .small {
    white-space: normal;
  }

  .instruments li:not(.fits),
  .keys {
    display: none;
  }
}
</style>
