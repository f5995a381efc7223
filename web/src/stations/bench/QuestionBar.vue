<script setup lang="ts">
import type { Question } from './state'
import { VOID_REASONS } from './keys'

/** What the Bench asks back, answered by one key or a tap. */
defineProps<{ question: Question }>()
defineEmits<{
  settle: [choice: 'keep' | 'take' | 'correct']
  decide: [choice: 'stands' | 'mend']
  strike: [reason: string]
  signOff: []
  close: []
}>()
</script>

<template>
  <div v-if="question.kind === 'unusual'" class="question" role="alertdialog" aria-label="Unusual">
    <p>
      <strong>{{ question.never ? '⚠ Not stored.' : '⚠ Is that right?' }}</strong>
      {{ question.message.replace(/([^.?])$/, '$1.') }}
    </p>
    <p class="answers">
      <v-btn v-if="!question.never" @click="$emit('settle', 'keep')"
        ><kbd>K</kbd>&nbsp;keep it, marked</v-btn
      >
      <v-btn v-if="question.suggestion" @click="$emit('settle', 'take')">
        <kbd>T</kbd>&nbsp;take {{ question.suggestion }}
      </v-btn>
      <v-btn @click="$emit('settle', 'correct')"><kbd>Esc</kbd>&nbsp;correct</v-btn>
    </p>
  </div>
  <div v-else-if="question.kind === 'check'" class="question" role="alertdialog" aria-label="Check">
    <p>
      <strong>⚠ {{ question.check.wrong }}.</strong>
    </p>
    <p class="soft">Why: {{ question.check.why }}.</p>
    <p>Likely mend: {{ question.check.mend }}.</p>
    <p class="answers">
      <v-btn @click="$emit('decide', 'stands')"><kbd>K</kbd>&nbsp;it is correct, keep it</v-btn>
      <v-btn @click="$emit('decide', 'mend')">
        <kbd>T</kbd>&nbsp;{{
          question.check.typed ? `take ${question.check.typed}` : 'go and read again'
        }}
      </v-btn>
      <v-btn @click="$emit('close')"><kbd>Esc</kbd>&nbsp;later</v-btn>
    </p>
  </div>
  <div v-else-if="question.kind === 'void'" class="question" role="alertdialog" aria-label="Void">
    <p>
      <strong>Void {{ question.reading.typed }}?</strong> It stays in the history. Why:
    </p>
    <p class="answers">
      <v-btn v-for="(reason, i) in VOID_REASONS" :key="reason" @click="$emit('strike', reason)">
        <kbd>{{ i + 1 }}</kbd>&nbsp;{{ reason }}
      </v-btn>
      <v-btn @click="$emit('close')"><kbd>Esc</kbd>&nbsp;cancel</v-btn>
    </p>
  </div>
  <div
    v-else-if="question.kind === 'sign-off'"
    class="question"
    role="alertdialog"
    aria-label="Sign off"
  >
    <p><strong>Sign off anyway?</strong> Nothing can be added to the sheet afterwards.</p>
    <ul>
      <li v-for="line in question.lacking" :key="line">{{ line }}</li>
    </ul>
    <p class="answers">
      <v-btn @click="$emit('signOff')"><kbd>K</kbd>&nbsp;sign off</v-btn>
      <v-btn @click="$emit('close')"><kbd>Esc</kbd>&nbsp;continue measuring</v-btn>
    </p>
  </div>
  <div v-else class="question" role="alertdialog" aria-label="Not applicable">
    <p>
      <strong>Not applicable.</strong> Type why, then <kbd>Enter</kbd>; <kbd>Esc</kbd> to cancel.
    </p>
  </div>
</template>

<style scoped>
ul {
  margin: 4px 0;
  padding-left: 18px;
}

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
