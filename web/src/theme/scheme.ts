import { ref, watchEffect } from 'vue'
import { vuetify } from './vuetify'

export type Scheme = 'maple' | 'rook'

const KEY = 'maple-rook.scheme'

function remembered(): Scheme {
  const kept = localStorage.getItem(KEY)
  return kept === 'rook' ? 'rook' : 'maple'
}

/** The colour scheme in force, kept across reloads. */
export const scheme = ref<Scheme>(remembered())

watchEffect(() => {
  document.documentElement.dataset.scheme = scheme.value
  vuetify.theme.change(scheme.value)
  localStorage.setItem(KEY, scheme.value)
})

export function switchScheme(): void {
  scheme.value = scheme.value === 'maple' ? 'rook' : 'maple'
}
