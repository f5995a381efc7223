<script setup lang="ts">
import { computed, watch } from 'vue'
import type { MeaningOut, TableOut } from '@/api/schema'
import { KINDS, meaningsOf, ORIGINS, originsOf, type KindOfRows, type TableRead } from './importing'
import WordSwitch from '@/parts/WordSwitch.vue'

/** What the columns of one table mean: guessed from the headings, changed by hand. */
const props = defineProps<{ table: TableOut; meanings: MeaningOut[] }>()
const read = defineModel<TableRead>({ required: true })

const groups = computed(() => meaningsOf(props.meanings, read.value.kind))
const byKey = computed(() => new Map(props.meanings.map((m) => [m.key, m])))
const used = computed(() => read.value.columns.filter((c) => c.field).length)
const twice = (field: string) =>
  field !== '' && read.value.columns.filter((c) => c.field === field).length > 1
const origins = computed(() => originsOf(read.value, props.meanings))
const units = (field: string) => byKey.value.get(field)?.units ?? []

/** A meaning that another kind of rows does not have goes over to the one that it has. */
watch(
  () => read.value.kind,
  (kind) => {
    for (const column of read.value.columns) {
      const bare = column.field.replace('claim:', '')
      const fits = (key: string) => kind && byKey.value.get(key)?.kinds.includes(kind as KindOfRows)
      if (!column.field || fits(column.field)) continue
      column.field = [bare, `claim:${bare}`].find(fits) ?? ''
    }
  },
)

function means(i: number, field: string): void {
  const column = read.value.columns[i]
  if (!column) return
  column.field = field
  if (!units(field).includes(column.unit)) column.unit = ''
}
const DECIMALS = [
  ['point', 'decimal point'],
  ['comma', 'decimal comma'],
] as const
</script>

<template>
  <section :aria-label="`Table ${table.name}`" class="table">
    <h2>
      {{ table.name }}
      <span class="soft small">
        {{
          read.kind
            ? `${used} of ${table.columns.length} columns are read`
            : 'this table is skipped'
        }}
      </span>
    </h2>
    <p v-if="table.said.length" class="soft small noticed">{{ table.said.join('; ') }}.</p>
    <div class="choices">
      <label>
        <span class="soft">Its rows are</span>
        <select v-model="read.kind">
          <option v-for="(label, kind) in KINDS" :key="kind" :value="kind">{{ label }}</option>
          <option value="">nothing to import</option>
        </select>
      </label>
      <WordSwitch
        v-if="read.kind"
        v-model="read.decimals"
        :legend="`Decimals of ${table.name}`"
        :choices="DECIMALS"
      />
    </div>
    <fieldset v-if="origins.length" class="origin">
      <legend>Were its figures measured by you, or printed?</legend>
      <label v-for="origin in origins" :key="origin">
        <input v-model="read.origin" type="radio" :name="`origin-${table.name}`" :value="origin" />
        {{ ORIGINS[origin] }}
        <span v-if="table.origin === origin" class="soft small">as its headings suggest</span>
      </label>
      <p v-if="read.origin === 'printed'" class="soft small">
        They become claims of the model, to compare with what you measure.
      </p>
      <p v-else-if="read.origin === 'measured'" class="soft small">
        Each reading says “unknown instrument”, with an uncertainty three times as wide.
      </p>
    </fieldset>
    <div v-if="read.kind" class="scroll">
      <table>
        <thead>
          <tr>
            <th>heading</th>
            <th>first rows</th>
            <th>means</th>
            <th>bare numbers are in</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="(column, i) in table.columns"
            :key="i"
            :class="{ unread: !read.columns[i]?.field }"
          >
            <td>{{ column.heading || 'without heading' }}</td>
            <td class="soft first">{{ column.first.filter(Boolean).join(' · ') || 'empty' }}</td>
            <td>
              <select
                :value="read.columns[i]?.field ?? ''"
                :aria-label="`What ${column.heading} means`"
                @change="means(i, ($event.target as HTMLSelectElement).value)"
              >
                <option value="">left out</option>
                <optgroup v-for="group in groups" :key="group.name" :label="group.name">
                  <option v-for="m in group.meanings" :key="m.key" :value="m.key">
                    {{ m.label }}
                  </option>
                </optgroup>
              </select>
              <span
                v-if="column.question && column.field === read.columns[i]?.field"
                class="rust ask"
              >
                ? {{ column.question }}
              </span>
              <span v-if="twice(read.columns[i]?.field ?? '')" class="rust small">⚠ twice</span>
              <span
                v-else-if="
                  !column.sure && !column.question && column.field === read.columns[i]?.field
                "
                class="grade-G small"
              >
                a guess; check it
              </span>
            </td>
            <td>
              <select
                v-if="read.columns[i] && units(read.columns[i].field).length"
                v-model="read.columns[i].unit"
                :aria-label="`Unit of ${column.heading}`"
              >
                <option value="">{{ units(read.columns[i].field)[0] }}, as at the Bench</option>
                <option v-for="unit in units(read.columns[i].field)" :key="unit">{{ unit }}</option>
              </select>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.table {
  margin-bottom: 20px;
}

h2 {
  font-size: var(--size-m);
  border: 0;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: baseline;
}

h2 span {
  font-family: var(--sans);
  font-weight: 400;
}

.noticed {
  margin: 2px 0 0;
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
  margin: 6px 0;
}

.choices > label {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: baseline;
}

.origin {
  border: 0;
  border-left: 3px solid var(--derived);
  margin: 8px 0;
  padding: 2px 0 2px 12px;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  align-items: baseline;
}

.origin legend {
  font-weight: 600;
  padding: 0;
}

.origin p {
  flex-basis: 100%;
  margin: 2px 0 0;
}

.scroll {
  overflow-x: auto;
  max-height: 420px;
  overflow-y: auto;
  border-bottom: 1px solid var(--hairline);
}

thead th {
  position: sticky;
  top: 0;
  background: var(--ground);
}

.ask {
  display: block;
  max-width: 44ch;
}

.first {
  max-width: 300px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

tr.unread td:first-child {
  color: var(--soft-ink);
}
</style>
