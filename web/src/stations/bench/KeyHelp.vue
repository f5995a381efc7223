<script setup lang="ts">
const open = defineModel<boolean>({ required: true })

const KEYS: [string, string][] = [
  ['Enter', 'store the reading and move on; on an empty entry, just move on'],
  ['R', 'another reading of the last quantity'],
  ['U', 'switch the unit of a bare number'],
  ['Backspace', 'on an empty entry: void the last reading (it stays in the history)'],
  ['Space', 'take the reading of a connected instrument'],
  ['↑ ↓', 'move between quantities'],
  ['H', 'hang this knife on the strip'],
  ['K T Esc', 'when a value looks odd: keep it, take the suggestion, or correct it'],
]
const SPELLINGS = '15 1/4 in · 9-5/8" · 6.9oz · 4 lb 3 oz · 10,5 mm · 30° incl · 15 dps · 70/30'
</script>

<template>
  <v-dialog v-model="open" max-width="560">
    <div class="help">
      <h2>Keys at the Bench</h2>
      <p class="soft small">Letters are commands while the entry is empty.</p>
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
      <p class="small">Spellings: {{ SPELLINGS }}</p>
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
</style>
