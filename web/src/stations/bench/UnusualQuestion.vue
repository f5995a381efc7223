<script lang="ts">
export type Answer = 'keep' | 'take' | 'correct'
</script>

<script setup lang="ts">
/** A value outside what is typical of the type: the person decides, by key or by hand. */
defineProps<{ message: string; suggestion: string | null }>()
defineEmits<{ answer: [choice: Answer] }>()
</script>

<template>
  <div class="question" role="alertdialog" aria-label="Unusual value">
    <p><strong>⚠ Is that right?</strong> {{ message }}.</p>
    <p class="answers">
      <v-btn @click="$emit('answer', 'keep')"><kbd>K</kbd>&nbsp;keep it, marked</v-btn>
      <v-btn v-if="suggestion" @click="$emit('answer', 'take')">
        <kbd>T</kbd>&nbsp;take {{ suggestion }}
      </v-btn>
      <v-btn @click="$emit('answer', 'correct')"><kbd>Esc</kbd>&nbsp;correct</v-btn>
    </p>
  </div>
</template>

<style scoped>
.question {
  border-left: 3px solid var(--rust);
  padding: 4px 12px;
  margin-bottom: 10px;
  background: var(--panel);
}

p {
  margin: 4px 0;
}

.answers {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
</style>
