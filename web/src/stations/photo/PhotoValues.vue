<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { AcceptIn, MeasuredOut, PhotoValueOut } from '@/api/schema'
import { expandedText, meanText, rounded } from '@/parts/numbers'

/** What the photo gives, beside what the sheet has; what is ticked becomes a reading. */
const props = defineProps<{
  found: MeasuredOut
  side: boolean
  locked: boolean
  busy: boolean
}>()
const emit = defineEmits<{
  accept: [asked: { quantities: AcceptIn['quantities']; keepEdge: boolean }]
}>()

const left = ref(new Set<string>())
const added = ref(new Set<string>())
const keepEdge = ref(true)
const open = ref('')
watch(
  () => props.found.values.map((v) => v.quantity).join(),
  () => {
    left.value = new Set()
    added.value = new Set()
  },
)

const ticked = (v: PhotoValueOut) =>
  !v.refused && (v.proposed ? !left.value.has(v.quantity) : added.value.has(v.quantity))
function tick(v: PhotoValueOut): void {
  const set = v.proposed ? left : added
  const now = new Set(set.value)
  if (!now.delete(v.quantity)) now.add(v.quantity)
  set.value = now
}
const chosen = computed(() => props.found.values.filter(ticked).map((v) => v.quantity))
const figure = (v: PhotoValueOut) => ({ mean: v.value, expanded: v.expanded })
const WORDS: Record<string, string> = {
  pixels: 'pixels and points',
  card: 'the card in the photo',
  print: 'size of the print',
  plane: 'height over the card',
  thickness: 'parallax of the blade',
  definition: 'where a curve begins',
  apex: 'place of the apex',
}
const count = computed(() => chosen.value.length + (props.side && keepEdge.value ? 1 : 0))
</script>

<template>
  <form @submit.prevent="emit('accept', { quantities: chosen, keepEdge: side && keepEdge })">
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="visually-hidden">take over</span></th>
          <th scope="col">from the photo</th>
          <th scope="col" class="number">mm</th>
          <th scope="col">on the sheet</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="v in found.values" :key="v.quantity">
          <tr>
            <td class="tick">
              <input
                :id="`take-${v.quantity}`"
                type="checkbox"
                :checked="ticked(v)"
                :disabled="locked || Boolean(v.refused)"
                @change="tick(v)"
              />
            </td>
            <th scope="row">
              <label :for="`take-${v.quantity}`">{{ v.label }}</label>
            </th>
            <td class="number">
              <button
                type="button"
                class="plain why"
                :aria-expanded="open === v.quantity"
                :title="`Where ± ${expandedText(figure(v))} mm comes from`"
                @click="open = open === v.quantity ? '' : v.quantity"
              >
                <b>{{ meanText(figure(v)) }}</b>
                <span class="unit"> ± {{ expandedText(figure(v)) }}</span>
              </button>
            </td>
            <td class="small">
              <template v-if="v.on_sheet">
                {{ v.on_sheet_from }} {{ meanText(v.on_sheet) }}
                <span class="unit">± {{ expandedText(v.on_sheet) }}</span>
                <span v-if="v.verdict === 'agree'" class="grade-M"> ✓ agree</span>
                <span v-else class="rust">
                  ⚠ differ by {{ rounded(Math.abs(v.difference ?? 0), 1) }}
                </span>
              </template>
              <span v-else class="soft">not measured</span>
            </td>
          </tr>
          <tr v-if="v.refused || v.unusual" class="more">
            <td></td>
            <td colspan="3" class="small rust">⚠ {{ v.refused || v.unusual }}</td>
          </tr>
          <tr v-if="open === v.quantity" class="more">
            <td></td>
            <td colspan="3" class="small">
              U (k = 2) of {{ expandedText(figure(v)) }} mm:
              <span v-for="s in v.shares" :key="s.source" class="share">
                {{ WORDS[s.source] ?? s.source }} {{ rounded(100 * s.share, 0) }} %
              </span>
            </td>
          </tr>
        </template>
        <tr v-if="side">
          <td class="tick">
            <input id="take-edge" v-model="keepEdge" type="checkbox" :disabled="locked" />
          </td>
          <th scope="row" colspan="3">
            <label for="take-edge">the edge line, with the spine over it</label>
          </th>
        </tr>
      </tbody>
    </table>
    <p class="small soft rule">
      An instrument reading takes precedence over one from a photo; both stay in the record.
    </p>
    <v-btn
      type="submit"
      color="primary"
      variant="flat"
      :disabled="locked || !count"
      :loading="busy"
    >
      Store {{ chosen.length }} {{ chosen.length === 1 ? 'reading' : 'readings'
      }}{{ side && keepEdge ? ' and the edge' : '' }}
    </v-btn>
  </form>
</template>

<style scoped>
.tick {
  width: 26px;
}

.tick input {
  width: 18px;
  height: 18px;
  accent-color: var(--measured);
}

tbody th {
  color: var(--ink);
  font-size: var(--size-m);
}

tbody label {
  cursor: pointer;
}

.why {
  border-bottom: 1px dotted var(--soft-ink);
}

.more td {
  padding-top: 0;
}

.share {
  display: block;
}

.rule {
  margin: 8px 0;
}
</style>
