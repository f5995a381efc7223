<script setup lang="ts">
import { ref, watch } from 'vue'

/** A secret that can be copied now and is never shown again. */
const props = defineProps<{ value: string; label: string; rows?: number }>()
defineEmits<{ done: [] }>()

const box = ref<HTMLInputElement | HTMLTextAreaElement | null>(null)
const said = ref('Copy')
watch(
  () => props.value,
  () => (said.value = 'Copy'),
)
async function copy(): Promise<void> {
  box.value?.select()
  try {
    await navigator.clipboard.writeText(props.value)
    said.value = 'Copied'
  } catch {
    // a page that came unencrypted, or a browser that was told not to, may not copy by itself
    said.value = 'Selected: copy it'
  }
}
</script>

<template>
  <div class="once">
    <p><slot /></p>
    <textarea
      v-if="rows"
      ref="box"
      :value="value"
      :rows="rows"
      readonly
      :aria-label="label"
      @focus="box?.select()"
    ></textarea>
    <input v-else ref="box" :value="value" readonly :aria-label="label" @focus="box?.select()" />
    <p class="buttons">
      <v-btn @click="copy">{{ said }}</v-btn>
      <v-btn variant="text" @click="$emit('done')">Done</v-btn>
    </p>
  </div>
</template>

<style scoped>
.once {
  margin: 12px 0 16px;
  padding: 12px 14px;
  border: 1px solid var(--measured);
  border-radius: 4px;
  background: var(--panel);
}

p {
  margin: 0 0 8px;
}

textarea {
  resize: none;
  font-family: monospace;
}

input,
textarea {
  background: var(--ground);
  width: 100%;
}
</style>
