<script setup lang="ts">
import { addressOf } from '@/api/base'
import OfficeTabs from '@/parts/OfficeTabs.vue'

/** The record and the shelf as files; each opens elsewhere, and comes in again. */
const TABLES = ['models', 'claims', 'pieces', 'readings', 'profiles', 'trials'] as const
const WHOLE = [
  {
    href: addressOf('/api/v1/archive.zip'),
    name: 'Archive, .zip',
    about:
      'Everything with pictures, plans and work, to be made a shop again by: ./rook restore shop.zip',
  },
  {
    href: addressOf('/api/v1/shop.json'),
    name: 'The record .json',
    about: 'Models, claims, pieces, readings, traced edges and trials in one document.',
  },
  {
    href: addressOf('/api/v1/shop.xlsx'),
    name: 'Workbook .xlsx',
    about: 'The shelf with U in both unit systems, and the same tables, for a spreadsheet.',
  },
  {
    href: addressOf('/api/rack.csv'),
    name: 'The shelf .csv',
    about: 'One row a piece: every figure with U, in both unit systems, and what is estimated.',
  },
] as const
</script>

<template>
  <OfficeTabs />
  <div class="out">
    <section aria-labelledby="whole">
      <h2 id="whole">The whole shop</h2>
      <dl class="facts">
        <template v-for="file in WHOLE" :key="file.href">
          <dt>
            <a :href="file.href" download>{{ file.name }}</a>
          </dt>
          <dd>{{ file.about }}</dd>
        </template>
        <dt><a :href="addressOf('/api/v1/shop.schema.json')" target="_blank">JSON Schema</a></dt>
        <dd>What the record’s document holds, for programs that check it.</dd>
      </dl>
      <p class="soft small">
        Archive and workbook are written before they are sent: with thousands of knives give them a
        minute.
      </p>
    </section>
    <section aria-labelledby="tables">
      <h2 id="tables">Single tables .csv</h2>
      <p class="tables">
        <a
          v-for="table in TABLES"
          :key="table"
          :href="addressOf(`/api/v1/${table}.csv`)"
          download
          >{{ table }}</a
        >
      </p>
      <p class="soft">
        RFC 4180, UTF-8. Each can be imported again; what is already in the record changes nothing.
      </p>
    </section>
    <section aria-labelledby="knife">
      <h2 id="knife">One knife</h2>
      <p>
        On its Sheet: spec card and shelf label to print, data for a product page, outlines for
        cutting, words to say aloud, and a public page.
      </p>
      <p><RouterLink to="/rack">Choose one on the Rack</RouterLink></p>
    </section>
    <section aria-labelledby="programs">
      <h2 id="programs">For other programs</h2>
      <p>
        Everything is at <code>/api/v1</code>, described by
        <a :href="addressOf('/api/openapi.json')" target="_blank">OpenAPI</a>: pages, ranges and
        order by any figure, and writing in bulk.
      </p>
    </section>
  </div>
</template>

<style scoped>
.out {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 440px), 1fr));
  gap: 22px 48px;
}

.tables {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
}

p {
  margin: 0 0 8px;
}
</style>
