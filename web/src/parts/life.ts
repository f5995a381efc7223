import { ref, watch } from 'vue'

/** Life size on this screen: pixels per mm, matched once against a card 85.6 mm wide. */
export const CARD_MM = 85.6
const KEY = 'maple-rook.px-per-mm'
const CSS_PX_PER_MM = 96 / 25.4

export const pxPerMm = ref(Number(localStorage.getItem(KEY)) || CSS_PX_PER_MM)
export const matched = ref(localStorage.getItem(KEY) !== null)
export const lifeSize = ref(false)
export const matching = ref(false)

watch(pxPerMm, (now) => {
  localStorage.setItem(KEY, String(now))
  matched.value = true
})

/** Switch life size; the first time, ask for the card. */
export function switchLifeSize(): void {
  lifeSize.value = !lifeSize.value
  if (lifeSize.value && !matched.value) matching.value = true
}
