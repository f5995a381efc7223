<script setup lang="ts">
import { nextTick, ref } from 'vue'

/** A note and a photo that go with the next reading or answer. */
defineProps<{ photo: number | null }>()
const emit = defineEmits<{ photo: [file: File]; done: [] }>()
const note = defineModel<string | null>({ required: true })

const field = ref<HTMLInputElement | null>(null)
const picker = ref<HTMLInputElement | null>(null)

function write(): void {
  note.value ??= ''
  void nextTick(() => field.value?.focus())
}
defineExpose({ pickPhoto: () => picker.value?.click(), write })

function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) emit('photo', file)
  input.value = ''
}

function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') note.value = null
  if (event.key !== 'Enter' && event.key !== 'Escape') return
  event.preventDefault()
  emit('done')
}
</script>

<template>
  <p class="extras small soft">
    <label v-if="note !== null">
      Note
      <input
        ref="field"
        v-model="note"
        maxlength="400"
        autocomplete="off"
        placeholder="goes with the next entry"
        @keydown="onKey"
      />
    </label>
    <button v-else type="button" class="plain" tabindex="-1" @click="write">note (Alt+O)</button>
    <button type="button" class="plain" tabindex="-1" @click="picker?.click()">
      {{ photo ? 'photo ready, goes with the next entry' : 'photo (Alt+P)' }}
    </button>
    <input
      ref="picker"
      type="file"
      accept="image/*"
      capture="environment"
      class="visually-hidden"
      tabindex="-1"
      aria-label="Photo"
      @change="picked"
    />
  </p>
</template>

<style scoped>
.extras {
  display: flex;
  align-items: center;
  gap: 14px;
  margin: 0 0 8px;
}

label {
  display: flex;
  flex: 1;
  align-items: center;
  gap: 8px;
}

label input {
  flex: 1;
  min-width: 0;
}

button {
  text-decoration: underline;
  white-space: nowrap;
}

@media (max-width: 699px), (pointer: coarse) {
  button {
    display: none;
  }

  label input {
    min-height: 44px;
  }
}
</style>
