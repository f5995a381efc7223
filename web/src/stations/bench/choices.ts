import type { AspectChoice, ItemOut } from '@/api/schema'

/** What a person typed at an item: choices by number, a side or stroke by letter, a note. */
export interface Chosen {
  value: string
  aspect: AspectChoice['key']
  note: string
}

/**
 * "2" or "minor" the second choice · "1 3" or "forged + black" several · "2r" or "minor right" on
 * the right · "2, burr at the heel" with a note. Returns what is wrong in words where it cannot be understood.
 */
export function understood(item: ItemOut, text: string): Chosen | string {
  const typed = text.trim()
  if (item.free) return { value: '', aspect: '', note: typed }
  const comma = typed.indexOf(',')
  const head = (comma < 0 ? typed : typed.slice(0, comma)).trim().toLowerCase()
  const note = comma < 0 ? '' : typed.slice(comma + 1).trim()
  const words = byWords(item, head)
  if (words) return { ...words, note }
  const letter = /^[\d\s+]+([a-z])$/.exec(head)?.[1] ?? ''
  const digits = letter ? head.slice(0, -1) : head
  const aspect = letter ? item.aspects.find((a) => a.key.startsWith(letter) && a.key) : undefined
  if (letter && !aspect) return `no side or stroke “${letter}”; ${aspectsText(item)}`
  const numbers = digits.match(/\d+/g)?.map(Number) ?? []
  if (!numbers.length || /[^\d\s+]/.test(digits)) return acceptedText(item)
  const chosen = numbers.map((n) => item.choices[n - 1])
  if (chosen.some((c) => !c)) return acceptedText(item)
  if (chosen.length > 1 && !item.multiple) return 'one number'
  const fallback = item.aspects[0]?.key ?? ''
  return { value: chosen.map((c) => c!.key).join(','), aspect: aspect?.key ?? fallback, note }
}

const acceptedText = (item: ItemOut) =>
  `a number from 1 to ${item.choices.length}, or the words of a choice`

/** Letters and digits of words, however they are joined. */
const plain = (text: string) =>
  text
    .toLowerCase()
    .match(/[\p{L}\d]+/gu)
    ?.join(' ') ?? ''

/** The choice that words name: all of its words, or the beginning of no other. */
function named(choices: ItemOut['choices'], text: string): string | undefined {
  const typed = plain(text)
  if (!/\p{L}/u.test(typed)) return undefined
  const words = (c: ItemOut['choices'][number]) => [plain(c.label), plain(c.key)]
  const exact = choices.find((c) => words(c).includes(typed))
  if (exact) return exact.key
  const begun = choices.filter((c) => words(c).some((w) => w.startsWith(typed)))
  return begun.length === 1 ? begun[0]!.key : undefined
}

/** Choices named by their words, the last of them with a side or stroke. */
function byWords(item: ItemOut, head: string): Omit<Chosen, 'note'> | undefined {
  const fallback = item.aspects[0]?.key ?? ''
  const several = (text: string) => {
    const parts = item.multiple ? text.split(/\s*\+\s*|\s+and\s+/) : [text]
    const keys = parts.map((part) => named(item.choices, part))
    return keys.every((key) => key !== undefined) ? keys.join(',') : undefined
  }
  const value = several(head)
  if (value) return { value, aspect: fallback }
  const [, rest, last] = /^(.*\S)\s+(\p{L}+)$/u.exec(head) ?? []
  if (!rest || !last) return undefined
  const aspect = item.aspects.find((a) => a.key && (a.key === last || a.key[0] === last))
  const of = aspect && several(rest)
  return of ? { value: of, aspect: aspect.key } : undefined
}

export function aspectsText(item: ItemOut): string {
  return item.aspects
    .filter((a) => a.key)
    .map((a) => `${a.key[0]} ${a.label}`)
    .join(', ')
}
