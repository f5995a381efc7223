/** Sentences of the verdict point at what they stand on: an element carries its evidence's key. */
export const evidenceId = (key: string) => `evidence-${key.replace(/[^A-Za-z0-9]+/g, '-')}`

const SHOWN_MS = 2500

/** Bring the evidence into sight and mark it for a moment; false where it is not on the page. */
export function pointAt(keys: string[]): boolean {
  const found = keys.map((key) => document.getElementById(evidenceId(key))).find(Boolean)
  if (!found) return false
  found.scrollIntoView({ block: 'center' })
  found.classList.add('pointed')
  setTimeout(() => found.classList.remove('pointed'), SHOWN_MS)
  return true
}
