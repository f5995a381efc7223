import { ref, watchEffect } from 'vue'
import { vuetify } from './vuetify'

export type Scheme = 'maple' | 'rook'

const KEY = 'maple-rook.scheme'

const dark = window.matchMedia('(prefers-color-scheme: dark)')

/** What a person chose in this browser. */
function chosen(): Scheme | undefined {
  const kept = localStorage.getItem(KEY)
  return kept === 'rook' || kept === 'maple' ? kept : undefined
}

const ofSystem = (): Scheme => (dark.matches ? 'rook' : 'maple')

/** The colour scheme in force: the system's until one is chosen, which is kept. */
export const scheme = ref<Scheme>(chosen() ?? ofSystem())

dark.addEventListener('change', () => (scheme.value = chosen() ?? ofSystem()))

watchEffect(() => {
  document.documentElement.dataset.scheme = scheme.value
  vuetify.theme.change(scheme.value)
})

export function switchScheme(): void {
  scheme.value = scheme.value === 'maple' ? 'rook' : 'maple'
  localStorage.setItem(KEY, scheme.value)
}
