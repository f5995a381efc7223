<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, data } from '@/api/client'
import type { LaidIn } from '@/api/schema'
import { aComparison, useWriting } from '@/parts/writing'

/** Save this Board under a name, with today's numbers; the link stays. */
const props = defineProps<{ laid: LaidIn }>()

const queries = useQueryClient()
const writing = useWriting()
const naming = ref(false)
const name = ref('')
const saving = useMutation({
  mutationFn: () =>
    data(api.POST('/api/board/saved', { body: { ...props.laid, name: name.value.trim() } })),
  onSuccess: () => {
    naming.value = false
    name.value = ''
    void queries.invalidateQueries({ queryKey: ['saved-boards'] })
  },
})
</script>

<template>
  <form v-needs="'advise'" class="save no-print" @submit.prevent="name.trim() && saving.mutate()">
    <template v-if="naming">
      <v-text-field v-model="name" v-focus label="name of the comparison" maxlength="80" />
      <v-btn type="submit" :disabled="!name.trim()">Save</v-btn>
      <v-btn variant="text" @click="naming = false">Cancel</v-btn>
    </template>
    <template v-else>
      <v-btn @click="naming = true">Save this comparison</v-btn>
      <RouterLink to="/board/saved" class="small" aria-label="saved comparisons">saved</RouterLink>
      <button
        type="button"
        class="plain link write"
        aria-label="Write up a comparison"
        :disabled="writing.isPending.value"
        @click="writing.mutate(aComparison(laid))"
      >
        write up
      </button>
      <span v-if="saving.data.value" role="status">
        Saved:
        <RouterLink :to="`/board/saved/${saving.data.value.id}`">{{
          saving.data.value.name
        }}</RouterLink>
      </span>
    </template>
    <span v-if="saving.error.value ?? writing.error.value" class="rust">{{
      (saving.error.value ?? writing.error.value)?.message
    }}</span>
  </form>
</template>

<style scoped>
.save {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
}

.save > .v-input {
  min-width: 240px;
  max-width: 320px;
}

.write {
  font-size: var(--size-s);
}
</style>
