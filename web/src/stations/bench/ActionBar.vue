<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Action } from './actions'

/** Every key's action as a button large enough for a gloved finger; shown where one touches. */
const props = defineProps<{
  again: boolean
  usual: boolean
  short: boolean
  undoable: boolean
  checks: boolean
  finish: boolean
  reading: boolean
}>()
const emit = defineEmits<{ act: [what: Action] }>()

const more = ref(false)
const rest = computed<[Action, string, boolean][]>(() => [
  ['usual', 'same as last', props.usual],
  ['allUsual', 'all same as last', props.usual],
  ['again', 'read again', props.again],
  ['void', 'void last', props.reading],
  ['undo', 'undo', props.undoable],
  ['none', 'not applicable', true],
  ['fine', 'all fine', props.finish],
  ['check', 'decide check', props.checks],
  ['note', 'note', true],
  ['photo', 'photo', true],
  ['stop', 'next stop', true],
  ['short', props.short ? 'full sheet' : 'short sheet', true],
  ['hang', 'hang it', true],
  ['keys', 'keys', true],
])

function act(what: Action): void {
  more.value = false
  emit('act', what)
}
</script>

<template>
  <div class="actions" role="group" aria-label="Actions">
    <v-btn height="44" color="primary" variant="flat" tabindex="-1" @click="act('store')">
      store
    </v-btn>
    <v-btn v-if="usual" height="44" tabindex="-1" @click="act('usual')">same as last</v-btn>
    <v-btn height="44" tabindex="-1" :aria-expanded="more" @click="more = !more">
      {{ more ? 'fewer' : 'more…' }}
    </v-btn>
    <template v-if="more">
      <v-btn
        v-for="[what, label, can] in rest"
        :key="what"
        height="44"
        tabindex="-1"
        :disabled="!can"
        @click="act(what)"
      >
        {{ label }}
      </v-btn>
    </template>
  </div>
</template>

<style scoped>
.actions {
  display: none;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
  margin: 0 0 10px;
}

.actions :deep(.v-btn) {
  min-width: 0;
  padding: 0 6px;
}

@media (max-width: 699px), (pointer: coarse) {
  .actions {
    display: grid;
  }
}
</style>
