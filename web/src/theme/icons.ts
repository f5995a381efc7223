import {
  mdiCheck,
  mdiCheckboxBlankOutline,
  mdiCheckboxMarked,
  mdiChevronDown,
  mdiChevronLeft,
  mdiChevronRight,
  mdiChevronUp,
  mdiCloseCircle,
  mdiMenuDown,
  mdiMinusBox,
} from '@mdi/js'
import type { IconOptions } from 'vuetify'
import { VSvgIcon } from 'vuetify/components/VIcon'

const path = (d: string) => `svg:${d}`

/** The icons that the controls in use ask for, and no others. */
export const icons: IconOptions = {
  defaultSet: 'mdi',
  sets: { mdi: { component: VSvgIcon } },
  aliases: {
    checkboxOn: path(mdiCheckboxMarked),
    checkboxOff: path(mdiCheckboxBlankOutline),
    checkboxIndeterminate: path(mdiMinusBox),
    clear: path(mdiCloseCircle),
    delete: path(mdiCloseCircle),
    complete: path(mdiCheck),
    dropdown: path(mdiMenuDown),
    collapse: path(mdiChevronUp),
    expand: path(mdiChevronDown),
    prev: path(mdiChevronLeft),
    next: path(mdiChevronRight),
  },
}
