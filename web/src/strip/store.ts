import { defineStore } from 'pinia'
import { ref, watch } from 'vue'

export const MOST_IN_HAND = 6
const KEY = 'maple-rook.hand'

function parsed(text: string | null): number[] {
  const ids = (text ?? '').split('.').map(Number)
  return [...new Set(ids.filter((id) => Number.isInteger(id) && id > 0))].slice(0, MOST_IN_HAND)
}

/** The knives in hand, in order. The link wins over what the browser kept. */
export const useHand = defineStore('hand', () => {
  const linked = new URLSearchParams(window.location.search).get('hand')
  const ids = ref<number[]>(parsed(linked ?? localStorage.getItem(KEY)))
  const selected = ref<number | null>(ids.value[0] ?? null)
  /** The knife the station at hand is about; H hangs it. */
  const current = ref<number | null>(null)

  watch(ids, (now) => localStorage.setItem(KEY, now.join('.')), { deep: true, immediate: true })

  function hang(id: number): boolean {
    if (ids.value.includes(id)) return true
    if (ids.value.length >= MOST_IN_HAND) return false
    ids.value = [...ids.value, id]
    selected.value = id
    return true
  }

  function takeOff(id: number): void {
    const at = ids.value.indexOf(id)
    ids.value = ids.value.filter((other) => other !== id)
    if (selected.value === id) selected.value = ids.value[Math.max(0, at - 1)] ?? null
  }

  function toggle(id: number): boolean {
    if (!ids.value.includes(id)) return hang(id)
    takeOff(id)
    return true
  }

  /** Put a knife in another's place; the others move up. */
  function move(id: number, to: number): void {
    const rest = ids.value.filter((other) => other !== id)
    rest.splice(to, 0, id)
    ids.value = rest
  }

  /** Forget knives the server no longer knows. */
  function keep(known: number[]): void {
    if (ids.value.some((id) => !known.includes(id))) {
      ids.value = ids.value.filter((id) => known.includes(id))
    }
  }

  const asText = () => ids.value.join('.')
  return { ids, selected, current, hang, takeOff, toggle, move, keep, asText, parsed }
})
