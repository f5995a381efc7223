import type { AspectChoice, ItemOut } from '@/api/schema'

/** What a person typed at an item: choices by number, a side or stroke by letter, a note. */
export interface Chosen {
  value: string
  aspect: AspectChoice['key']
  note: string
}

/**
 * "2" the second choice · "1 3" the first and third · "2r" on the right · "2, burr at the heel"
 * with a note. Returns what is wrong in words where it cannot be understood.
 */
export function understood(item: ItemOut, text: string): Chosen | string {
  const typed = text.trim()
  if (item.free) return { value: '', aspect: '', note: typed }
  const comma = typed.indexOf(',')
  const head = (comma < 0 ? typed : typed.slice(0, comma)).trim().toLowerCase()
  const note = comma < 0 ? '' : typed.slice(comma + 1).trim()
  const letter = /^[\d\s+]+([a-z])$/.exec(head)?.[1] ?? ''
  const digits = letter ? head.slice(0, -1) : head
  const aspect = letter ? item.aspects.find((a) => a.key.startsWith(letter) && a.key) : undefined
  if (letter && !aspect) return `no side or stroke “${letter}”; ${aspectsText(item)}`
  const numbers = digits.match(/\d+/g)?.map(Number) ?? []
  if (!numbers.length || /[^\d\s+]/.test(digits)) return `a number from 1 to ${item.choices.length}`
  const chosen = numbers.map((n) => item.choices[n - 1])
  if (chosen.some((c) => !c)) return `a number from 1 to ${item.choices.length}`
  if (chosen.length > 1 && !item.multiple) return 'one number'
  const fallback = item.aspects[0]?.key ?? ''
  return { value: chosen.map((c) => c!.key).join(','), aspect: aspect?.key ?? fallback, note }
}

export function aspectsText(item: ItemOut): string {
  return item.aspects
    .filter((a) => a.key)
    .map((a) => `${a.key[0]} ${a.label}`)
    .join(', ')
}
