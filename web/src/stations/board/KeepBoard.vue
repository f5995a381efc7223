<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, data } from '@/api/client'
import type { LaidIn } from '@/api/schema'

/** Keep this Board under a name, with today's numbers; the link stays. */
const props = defineProps<{ laid: LaidIn }>()

const queries = useQueryClient()
const naming = ref(false)
const name = ref('')
const keeping = useMutation({
  mutationFn: () =>
    data(api.POST('/api/board/kept', { body: { ...props.laid, name: name.value.trim() } })),
  onSuccess: () => {
    naming.value = false
    name.value = ''
    void queries.invalidateQueries({ queryKey: ['kept-boards'] })
  },
})
const vFocus = { mounted: (el: HTMLElement) => el.querySelector('input')?.focus() }
</script>

<template>
  <form v-needs="'advise'" class="keep no-print" @submit.prevent="name.trim() && keeping.mutate()">
    <template v-if="naming">
      <v-text-field v-model="name" v-focus label="name of the comparison" maxlength="80" />
      <v-btn type="submit" :disabled="!name.trim()">Keep</v-btn>
      <v-btn variant="text" @click="naming = false">Leave it</v-btn>
    </template>
    <template v-else>
      <v-btn @click="naming = true">Keep this comparison</v-btn>
      <RouterLink to="/board/kept" class="small">kept comparisons</RouterLink>
      <span v-if="keeping.data.value" role="status">
        Kept:
        <RouterLink :to="`/board/kept/${keeping.data.value.id}`">{{
          keeping.data.value.name
        }}</RouterLink>
      </span>
    </template>
    <span v-if="keeping.error.value" class="rust">{{ keeping.error.value.message }}</span>
  </form>
</template>

<style scoped>
.keep {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
}

.keep > .v-input {
  min-width: 240px;
  max-width: 320px;
}
</style>
