<script setup lang="ts">
import { KEYS } from './keys'

const open = defineModel<boolean>({ required: true })

const SPELLINGS = '15 1/4 in · 9-5/8" · 6.9oz · 4 lb 3 oz · 10,5 mm · 30° incl · 15 dps · 70/30'
const ESTIMATES = '~58 · about 58 · 58-60 · 58±2 · 5-6 of 10; told 58 for what is printed or said'
const CHOICES = '2 · its words · 1 3 for several · 2r on the right · 2, with a note'
</script>

<template>
  <v-dialog v-model="open" max-width="560">
    <div class="help">
      <h2>Keys at the Bench</h2>
      <p class="soft small">
        Letters are commands while a number is asked and the entry is empty; with Alt, always.
      </p>
      <table>
        <tbody>
          <tr v-for="[key, does] in KEYS" :key="key">
            <td>
              <kbd>{{ key }}</kbd>
            </td>
            <td>{{ does }}</td>
          </tr>
        </tbody>
      </table>
      <p class="small">Readings: {{ SPELLINGS }}</p>
      <p class="small">Not measured: {{ ESTIMATES }}</p>
      <p class="small">Choices: {{ CHOICES }}</p>
      <v-btn autofocus @click="open = false">Back to the bench</v-btn>
    </div>
  </v-dialog>
</template>

<style scoped>
.help {
  background: var(--panel);
  color: var(--ink);
  border: 1px solid var(--hairline);
  border-radius: 3px;
  padding: 20px;
}

td {
  padding-top: 3px;
  padding-bottom: 3px;
}
</style>
