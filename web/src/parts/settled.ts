import { onScopeDispose, ref, type Ref, watch } from 'vue'

/** What a field holds once nobody has typed into it for a moment. */
export function settled(typed: Ref<string>, quietMs = 120): Ref<string> {
  const now = ref(typed.value)
  let timer: ReturnType<typeof setTimeout> | undefined
  watch(typed, (text) => {
    clearTimeout(timer)
    timer = setTimeout(() => (now.value = text), quietMs)
  })
  onScopeDispose(() => clearTimeout(timer))
  return now
}
