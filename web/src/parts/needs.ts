import { watchEffect, type Directive, type WatchHandle } from 'vue'
import { may } from '@/api/session'
import type { May } from '@/api/schema'

const watched = new WeakMap<HTMLElement, WatchHandle>()

/** `v-needs="'measure'"`: there only for who may; the server refuses the others anyway. */
export const needs: Directive<HTMLElement, May> = {
  mounted(element, { value }) {
    watched.set(
      element,
      watchEffect(() => (element.hidden = !may(value))),
    )
  },
  unmounted(element) {
    watched.get(element)?.stop()
  },
}
