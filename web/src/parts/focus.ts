import type { Directive } from 'vue'

/**
 * `v-focus`: the field in it takes the focus as it appears, at once and once. A field's own
 * autofocus comes late, and again, and takes it back from where somebody types by then.
 */
export const focus: Directive<HTMLElement, boolean | undefined> = {
  mounted(element, { value = true }) {
    if (value) element.querySelector('input')?.focus()
  },
}
