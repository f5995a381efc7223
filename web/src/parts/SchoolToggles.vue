<script setup lang="ts">
import type { QuestionOut } from '@/api/schema'
import { answer, job, type Job } from './job'

/** The schools practitioners disagree by, each switchable in sight of the verdict. */
defineProps<{ schools: QuestionOut[] }>()

const chosen = (key: string) => job[key as keyof Job]
</script>

<template>
  <div class="schools" role="group" aria-label="Schools">
    <fieldset v-for="school in schools" :key="school.key">
      <legend class="small soft">{{ school.asked }}</legend>
      <label v-for="a in school.answers" :key="a" :class="{ on: chosen(school.key) === a }">
        <input
          type="radio"
          :name="`school-${school.key}`"
          :value="a"
          :checked="chosen(school.key) === a"
          @change="answer({ [school.key]: a })"
        />
        {{ a }}
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
.schools {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
}

fieldset {
  display: flex;
  flex-wrap: wrap;
  border: 0;
  margin: 0;
  padding: 0;
}

legend {
  padding: 0;
}

label {
  position: relative;
  padding: 4px 9px;
  border: 1px solid var(--hairline);
  margin-right: -1px;
  cursor: pointer;
  color: var(--soft-ink);
}

label.on {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -3px 0 var(--predicted);
}

input {
  appearance: none;
  position: absolute;
  inset: 0;
  margin: 0;
  cursor: pointer;
}

label:has(:focus-visible) {
  outline: 2px solid var(--measured);
  outline-offset: 2px;
}
</style>
