<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { named, type Named } from './named'

/**
 * A field for one choice of a list. What is typed stays as it is typed: it is the choice once it
 * names one, and until then the field says that it names none.
 */
const props = defineProps<{
  items: Named[]
  label: string
  /** Said under the field while what is typed names nothing. */
  unknown?: string
  wrong?: string
}>()
const chosen = defineModel<string | number | null>({ required: true })

const titleOf = (value: string | number | null) =>
  props.items.find((item) => item.value === value)?.title ?? ''
const text = ref(titleOf(chosen.value))
const left = ref(false)

watch([chosen, () => props.items], () => {
  if (chosen.value !== null) text.value = titleOf(chosen.value) || text.value
})

function typed(said: unknown): void {
  text.value = typeof said === 'string' ? said : String((said as Named | null)?.title ?? '')
  chosen.value = named(props.items, text.value)?.value ?? null
}

const complaint = computed(() => {
  if (props.wrong) return props.wrong
  const strange = left.value && text.value.trim() && chosen.value === null
  return strange ? (props.unknown ?? 'Not in the list: choose one.') : ''
})
/** What a form may not be sent with: a text that names nothing. */
defineExpose({ isStrange: () => !!text.value.trim() && chosen.value === null })
</script>

<template>
  <v-combobox
    :model-value="text"
    :items="items"
    :label="label"
    :error-messages="complaint"
    :return-object="false"
    item-value="title"
    auto-select-first="exact"
    @update:model-value="typed"
    @update:search="typed"
    @focus="left = false"
    @blur="left = true"
  >
    <slot />
  </v-combobox>
</template>
