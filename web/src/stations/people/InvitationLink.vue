<script setup lang="ts">
import { computed, ref } from 'vue'
import type { InvitedOut } from '@/api/schema'

/** The address to hand over; it is shown this once. */
const props = defineProps<{ invited: InvitedOut }>()
defineEmits<{ done: [] }>()

const address = computed(() => `${location.origin}/join#${props.invited.token}`)
const copied = ref(false)
async function copy(): Promise<void> {
  await navigator.clipboard?.writeText(address.value)
  copied.value = true
}
</script>

<template>
  <section class="link-box" aria-label="Invitation">
    <p>
      Give <b>{{ invited.person.name }}</b> this address. It counts once, for
      {{ invited.days }} days, and is shown only now.
    </p>
    <input :value="address" readonly aria-label="Address of the invitation" @focus="copy" />
    <p class="buttons">
      <v-btn @click="copy">{{ copied ? 'Copied' : 'Copy' }}</v-btn>
      <v-btn variant="text" @click="$emit('done')">Done</v-btn>
    </p>
  </section>
</template>

<style scoped>
.link-box {
  border: 1px solid var(--measured);
  border-radius: 4px;
  background: var(--panel);
  padding: 12px 14px;
  margin-bottom: 16px;
}

.link-box p {
  margin: 0 0 8px;
}

input {
  width: 100%;
  font: inherit;
  color: inherit;
  padding: 6px 8px;
  border: 1px solid var(--hairline);
  border-radius: 3px;
  background: var(--ground);
}

.buttons {
  display: flex;
  gap: 10px;
  margin: 10px 0 0 !important;
}
</style>
