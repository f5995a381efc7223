<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { profile } from '@/parts/profile'
import { RODS, setRods } from './care'

/** The two schools of honing a hard edge; the chosen one is always shown. */
</script>

<template>
  <fieldset class="switch no-print">
    <legend class="small soft">A hard edge, from 62 HRC</legend>
    <label v-for="rods in RODS" :key="rods" :class="{ on: profile.rods === rods }">
      <input
        type="radio"
        name="rods"
        :value="rods"
        :checked="profile.rods === rods"
        @change="setRods(rods)"
      />
      {{ labelOf('RodSchool', rods) }}
    </label>
  </fieldset>
</template>
