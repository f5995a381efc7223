<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import type { GradeOut } from '@/api/schema'
import { rounded, shareText } from '@/parts/numbers'

/** Grades with their composition, and what it means for an edge. */
defineProps<{ grades: GradeOut[]; chosen?: string }>()
const emit = defineEmits<{ choose: [designation: string] }>()

const COLUMNS = ['C', 'Cr', 'Mo', 'V', 'W'] as const
const volume = (g: GradeOut) => g.carbides.carbides.reduce((sum, c) => sum + c.volume, 0)
</script>

<template>
  <div class="scroll">
    <table>
      <thead>
        <tr>
          <th>grade</th>
          <th v-for="element in COLUMNS" :key="element" class="number">{{ element }} %</th>
          <th class="number">carbides %</th>
          <th class="number">PREN</th>
          <th>reacts</th>
          <th class="number">usual HRC</th>
          <th>toughness</th>
          <th>sharpening</th>
          <th class="number">pieces</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="g in grades" :key="g.designation" :class="{ here: g.designation === chosen }">
          <td>
            <button type="button" class="plain pick" @click="emit('choose', g.designation)">
              <b>{{ g.designation }}</b>
              <span v-if="g.name !== g.designation" class="soft small"> {{ g.name }}</span>
              <span v-if="g.own" class="soft small"> your own</span>
            </button>
          </td>
          <td v-for="element in COLUMNS" :key="element" class="number">
            {{ shareText(g.composition[element], element) }}
          </td>
          <td class="number">{{ volume(g) ? rounded(volume(g), 1) : '–' }}</td>
          <td class="number">
            {{ g.reactivity === 'stainless' ? rounded(g.pren, 0) : '–' }}
          </td>
          <td>{{ labelOf('Reactivity', g.reactivity) }}</td>
          <td class="number">{{ g.usual_hrc.join(' to ') }}</td>
          <td>{{ g.toughness }}</td>
          <td>{{ g.sharpening }}</td>
          <td class="number">{{ g.pieces || '' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll td {
  padding-right: 6px;
}

.pick {
  text-align: left;
  white-space: nowrap;
}

.pick .small {
  margin-left: 6px;
}

td {
  white-space: nowrap;
}

.here td {
  background: var(--panel);
}
</style>
