<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { SpecificationOut } from '@/api/schema'
import { asked, lastLabel, profile } from '@/parts/profile'
import { wantedText } from '@/parts/wanted'

/** What would suit the customer, to be kept as a wish; open where nothing on the shelf does. */
const props = defineProps<{ wanted: SpecificationOut; nothing?: string }>()

const queries = useQueryClient()
const label = ref('')
const named = computed(() => label.value.trim() || profile.label || lastLabel.value)
const keeping = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/counter/wishes', {
        body: { label: named.value, profile: { ...asked(), label: named.value } },
      }),
    ),
  onSuccess: (wishes) => {
    label.value = ''
    queries.setQueryData(['counter', 'wishes'], wishes)
  },
})
const lines = computed(() => wantedText(props.wanted))
</script>

<template>
  <details class="wanted" :open="Boolean(nothing)">
    <summary>
      <template v-if="nothing"
        ><span class="rust">⚠ {{ nothing }}</span> This is what would suit:</template
      >
      <template v-else>What would suit, as a specification</template>
    </summary>
    <ul>
      <li v-for="line in lines" :key="line">{{ line }}</li>
    </ul>
    <form
      v-needs="'advise'"
      class="keep no-print"
      @submit.prevent="named && keeping.mutate(undefined)"
    >
      <v-text-field
        v-model="label"
        label="wish for (a label, no name)"
        :placeholder="named || undefined"
        :persistent-placeholder="Boolean(named)"
        maxlength="60"
      />
      <v-btn type="submit" :disabled="!named">Save as a wish</v-btn>
      <span v-if="keeping.isSuccess.value" role="status"
        >Saved. A knife that matches is shown here once it is measured.</span
      >
      <span v-if="keeping.error.value" class="rust">{{ keeping.error.value.message }}</span>
    </form>
  </details>
</template>

<style scoped>
.wanted {
  margin: 6px 0;
}

summary {
  cursor: pointer;
  padding: 4px 0;
}

ul {
  margin: 2px 0 6px;
  padding-left: 18px;
  columns: 2 220px;
}

.keep {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.keep > .v-input {
  max-width: 240px;
}
</style>
