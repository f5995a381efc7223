<script setup lang="ts">
import { type Ref, ref } from 'vue'

/**
 * The one large entry, readable at arm's length, with the unit a bare number takes. It has the typed
 * text as a ref of its own, so that a key draws this box again and nothing around it.
 */
const props = defineProps<{
  entry: { text: Ref<string> }
  id: string
  wrong: boolean
  disabled: boolean
  placeholder: string
  unit: string
  unitKey: string
  words: boolean
}>()
defineEmits<{ entryKey: [event: KeyboardEvent]; switchUnit: [] }>()
const { text } = props.entry

const field = ref<HTMLInputElement | null>(null)
defineExpose({
  focus(selected = false) {
    field.value?.focus()
    if (selected) field.value?.select()
  },
})
</script>

<template>
  <div class="box" :class="{ wrong, long: text.length > 14 }">
    <input
      :id="id"
      ref="field"
      v-model="text"
      autocomplete="off"
      autocapitalize="off"
      spellcheck="false"
      inputmode="text"
      :maxlength="words ? 420 : 64"
      :disabled="disabled"
      :placeholder="placeholder"
      aria-describedby="entry-method"
      @keydown="$emit('entryKey', $event)"
    />
    <button
      v-if="unit"
      type="button"
      class="plain unit-switch"
      :aria-label="`Unit ${unitKey}, switch`"
      @click="$emit('switchUnit')"
    >
      {{ unit }}
    </button>
  </div>
</template>

<style scoped>
.box {
  display: flex;
  align-items: center;
  margin: 8px 0 10px;
  border: 1px solid var(--soft-ink);
  border-radius: 3px;
  background: var(--panel);
}

.box:has(input:focus) {
  border-color: var(--measured);
  outline: 2px solid var(--measured);
}

.box.wrong,
.box.wrong:has(input:focus) {
  border-color: var(--rust);
  outline: 2px solid var(--rust);
}

input {
  flex: 1;
  min-width: 0;
  border: 0;
  outline: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: var(--size-entry);
  line-height: 1.2;
  padding: 4px 14px;
}

.box input:focus-visible {
  outline: 0 !important; /* the box around it is marked */
}

.long input {
  font-size: var(--size-xl);
  line-height: 2.8;
}

input::placeholder {
  color: var(--hairline);
}

.unit-switch {
  padding: 12px 16px !important;
  font-size: var(--size-xl) !important;
  color: var(--soft-ink) !important;
  border-left: 1px solid var(--hairline) !important;
  white-space: nowrap;
}
</style>
