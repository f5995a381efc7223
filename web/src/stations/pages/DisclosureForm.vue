<script setup lang="ts">
import { useCatalogue } from '@/api/catalogue'
import type { DisclosureIn } from '@/api/schema'
import { computed } from 'vue'

/** Where the knife came from and who gains: asked of every review, and never left empty. */
const disclosure = defineModel<DisclosureIn>({ required: true })

const { catalogue } = useCatalogue()
const obtained = computed(() =>
  Object.entries(catalogue.value?.labels.Obtained ?? {}).map(([value, title]) => ({
    value,
    title,
  })),
)
const YES_NO = [
  { value: false, title: 'no' },
  { value: true, title: 'yes' },
]
const named = computed(() => ['lent', 'given', 'bought'].includes(disclosure.value.obtained ?? ''))
</script>

<template>
  <div class="asked">
    <v-select v-model="disclosure.obtained" :items="obtained" label="The knife was" />
    <v-text-field
      v-if="named"
      v-model="disclosure.by"
      :label="disclosure.obtained === 'bought' ? 'Bought from (optional)' : 'By whom'"
      maxlength="160"
    />
    <v-select v-model="disclosure.paid" :items="YES_NO" label="Did anyone pay for the review?" />
    <v-text-field
      v-if="disclosure.paid"
      v-model="disclosure.paid_by"
      label="Who paid"
      maxlength="160"
    />
    <v-select
      v-model="disclosure.seen_first"
      :items="YES_NO"
      label="Did anyone see it before publication?"
    />
    <v-text-field
      v-if="disclosure.seen_first"
      v-model="disclosure.seen_by"
      label="Who saw it first"
      maxlength="160"
    />
    <v-select v-model="disclosure.links_earn" :items="YES_NO" label="Do links earn money?" />
  </div>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(210px, 1fr));
  gap: 10px 14px;
}
</style>
