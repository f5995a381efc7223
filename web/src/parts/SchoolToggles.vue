<script setup lang="ts">
import type { QuestionOut } from '@/api/schema'
import { answer, profile, type Profile } from './profile'

/** The schools practitioners disagree by, each switchable in sight of the verdict. */
defineProps<{ schools: QuestionOut[] }>()

const chosen = (key: string) => profile[key as keyof Profile]
</script>

<template>
  <div class="schools" role="group" aria-label="Schools">
    <fieldset v-for="school in schools" :key="school.key" class="switch">
      <legend class="small soft">{{ school.asked }}</legend>
      <label v-for="a in school.answers" :key="a.key" :class="{ on: chosen(school.key) === a.key }">
        <input
          type="radio"
          :name="`school-${school.key}`"
          :value="a.key"
          :checked="chosen(school.key) === a.key"
          @change="answer({ [school.key]: a.key })"
        />
        {{ a.label }}
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
</style>
