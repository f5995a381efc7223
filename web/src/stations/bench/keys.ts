import type { useBench } from './bench'

export const KEYS: [string, string][] = [
  ['Enter', 'store and move on; on an empty entry, just move on'],
  ['1 to 9', 'at a list with one answer: that choice, without Enter'],
  [
    '=',
    'copy the answer of earlier pieces of this model; with Alt, every open answer at this stop',
  ],
  ['R', 'another reading of the last quantity'],
  ['Space', 'take the reading of the instrument on the line'],
  ['U', 'switch the unit of a bare number'],
  ['Backspace', 'on an entry left empty: void the last reading of this quantity'],
  ['Z', 'take the last void back'],
  ['N', 'not applicable, with a reason'],
  ['C', 'decide on the first open check'],
  ['↑ ↓', 'move between questions'],
  ['Page ↑ ↓', 'move between stops'],
  ['Alt+A', 'at the finish: mark all open answers as fine, then enter the exceptions'],
  ['S', 'sign off; what is missing is listed first'],
  ['F', 'short sheet (only what is required) or full sheet'],
  ['Alt+O', 'a note that goes with the next reading or answer'],
  ['Alt+P', 'a photo that goes with it'],
  ['H', 'hang this knife on the strip'],
  ['K T Esc', 'when something is asked: keep it, take the suggestion, or correct it'],
]

/** Why a reading is voided, by the key that says so. */
export const VOID_REASONS = ['wrong place', 'slipped', 'wrong knife', 'instrument moved', 'misread']

/** What a reading begins with: typed while a reading is asked about, it is the next one. */
const REPLACES = /^[\d.,+\-−~≈¼½¾⅛⅜⅝⅞]$/

type Bench = ReturnType<typeof useBench>

interface Outside {
  hang: () => void
  help: () => void
  photo: () => void
  note: () => void
  focus: () => void
  signOff: () => void
  askToSignOff: () => void
}

/** Keys while the Bench asks something back; returns whether the key is dealt with. */
function answered(event: KeyboardEvent, bench: Bench, outside: Outside): boolean {
  const open = bench.question.value
  if (!open) return false
  if (open.kind === 'not-applicable') {
    if (event.key !== 'Escape') return false
    bench.question.value = null
    bench.text.value = ''
    return true
  }
  if (event.key === 'Tab') return true
  const key = event.key.toLowerCase()
  if (open.kind === 'unusual' && REPLACES.test(event.key)) {
    bench.settle('correct') // this key begins what takes its place
    if (!open.from) bench.text.value = ''
    return false
  }
  event.preventDefault()
  if (event.repeat) return true
  if (open.kind === 'unusual') {
    if (key === 'k' && !open.never) bench.settle('keep')
    else if (key === 't' && open.suggestion) bench.settle('take')
    else if (key === 'escape' || key === 'backspace') bench.settle('correct')
    return true
  }
  if (open.kind === 'sign-off') {
    if (key === 'k') outside.signOff()
    else if (key === 'escape') bench.question.value = null
  } else if (open.kind === 'check') {
    if (key === 'k') bench.decide('stands')
    else if (key === 't') bench.decide('mend')
    else if (key === 'escape') bench.question.value = null
  } else {
    const reason = VOID_REASONS[Number(key) - 1]
    if (reason) bench.strike(open.reading.client_id, open.reading.quantity, reason)
    else if (key === 'escape') bench.question.value = null
  }
  outside.focus()
  return true
}

/** The letter of a key, whatever a modifier makes of it. */
const letterOf = (event: KeyboardEvent) =>
  /^Key([A-Z])$/.exec(event.code)?.[1]?.toLowerCase() ?? event.key.toLowerCase()

/**
 * Letters are commands while the entry is empty and a number is asked; with Alt they are always.
 * A key that is held down repeats no command.
 */
export function onEntryKey(event: KeyboardEvent, bench: Bench, outside: Outside): void {
  if (event.ctrlKey || event.metaKey) return
  if (!event.altKey && answered(event, bench, outside)) return
  if (event.key === 'Enter' && !event.altKey) {
    event.preventDefault()
    if (!event.repeat && !bench.enteredAlready()) bench.store()
    return
  }
  const emptyList = bench.item.value && !bench.text.value && !bench.question.value
  if (event.key === '=' && (emptyList || event.altKey)) {
    event.preventDefault()
    if (!event.repeat) (event.altKey ? bench.allAsUsual : bench.asUsual)()
    return
  }
  if (event.key === ',' && !event.altKey && bench.noteOnDigit()) return event.preventDefault()
  if (/^[1-9]$/.test(event.key) && !event.altKey && !event.repeat) bench.digit(event.key)
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    bench.step(event.key === 'ArrowDown' ? 1 : -1)
    return
  }
  if (event.key === 'PageDown' || event.key === 'PageUp') {
    event.preventDefault()
    if (!event.repeat) bench.stepStop(event.key === 'PageDown' ? 1 : -1)
    return
  }
  const inWords = Boolean(bench.item.value || bench.question.value)
  const plain = !event.altKey && (bench.text.value || (inWords && event.key !== '?'))
  if (plain) return
  const commands: Record<string, () => unknown> = {
    r: bench.again,
    u: bench.switchUnit,
    n: () => (bench.question.value = { kind: 'not-applicable' }),
    c: bench.nextCheck,
    f: () => (bench.short.value = !bench.short.value),
    h: outside.hang,
    z: bench.undo,
    s: outside.askToSignOff,
    '?': outside.help,
    ' ': bench.take,
    backspace: bench.voidLast,
  }
  /** No plain keys: a reading may begin with their letters, as in "about 58". */
  const withAlt: Record<string, () => unknown> = {
    a: bench.allFine,
    o: outside.note,
    p: outside.photo,
  }
  const letter = event.altKey ? letterOf(event) : event.key.toLowerCase()
  const command = commands[letter] ?? (event.altKey ? withAlt[letter] : undefined)
  if (!command || (event.altKey && !/^[a-z]$/.test(letter))) return
  event.preventDefault()
  if (!event.repeat) command()
}
