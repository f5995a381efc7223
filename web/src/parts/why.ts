import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { PredictionOut } from '@/api/schema'

/** The number whose explanation is open, and the knife it belongs to. */
export const useWhy = defineStore('why', () => {
  const prediction = ref<PredictionOut | null>(null)
  const knife = ref('')

  function explain(asked: PredictionOut, name: string): void {
    prediction.value = asked
    knife.value = name
  }

  function close(): void {
    prediction.value = null
  }

  return { prediction, knife, explain, close }
})
