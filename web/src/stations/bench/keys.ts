import type { useBench } from './bench'

export const KEYS: [string, string][] = [
  ['Enter', 'store and move on; on an empty entry, just move on'],
  ['R', 'another reading of the last quantity'],
  ['Space', 'take the reading of the instrument on the line'],
  ['U', 'switch the unit of a bare number'],
  ['Backspace', 'on an empty entry: void the last reading (it stays in the history)'],
  ['N', 'not applicable, with a reason'],
  ['C', 'decide on the first open check'],
  ['↑ ↓', 'move between questions'],
  ['F', 'short sheet (only what is required) or full sheet'],
  ['P', 'photo of what is asked, at the finish stop'],
  ['H', 'hang this knife on the strip'],
  ['K T Esc', 'when something is asked: keep it, take the suggestion, or correct it'],
]

/** Why a reading is voided, by the key that says so. */
export const VOID_REASONS = ['wrong place', 'slipped', 'wrong knife', 'instrument moved', 'misread']

type Bench = ReturnType<typeof useBench>

interface Outside {
  hang: () => void
  help: () => void
  photo: () => void
  focus: () => void
}

/** Keys while the Bench asks something back; returns whether the key is dealt with. */
function answered(event: KeyboardEvent, bench: Bench, focus: () => void): boolean {
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
  event.preventDefault()
  if (open.kind === 'unusual') {
    if (key === 'k' && !open.never) bench.settle('keep')
    else if (key === 't' && open.suggestion) bench.settle('take')
    else if (key !== 'enter' && key !== 't' && key !== 'k') bench.settle('correct')
  } else if (open.kind === 'check') {
    if (key === 'k') bench.decide('stands')
    else if (key === 't') bench.decide('mend')
    else if (key === 'escape') bench.question.value = null
  } else {
    const reason = VOID_REASONS[Number(key) - 1]
    if (reason) bench.strike(open.reading.client_id, open.reading.quantity, reason)
    else if (key === 'escape') bench.question.value = null
  }
  focus()
  return true
}

/** Letters are commands while the entry is empty; nothing typed there begins with one. */
export function onEntryKey(event: KeyboardEvent, bench: Bench, outside: Outside): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (answered(event, bench, outside.focus)) return
  if (event.key === 'Enter') {
    event.preventDefault()
    bench.store()
    return
  }
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    bench.step(event.key === 'ArrowDown' ? 1 : -1)
    return
  }
  const inWords = bench.item.value?.free || bench.question.value
  if (bench.text.value || (inWords && /^[a-z ]$/i.test(event.key))) return
  const commands: Record<string, () => unknown> = {
    r: bench.again,
    u: bench.switchUnit,
    n: () => (bench.question.value = { kind: 'not-applicable' }),
    c: bench.nextCheck,
    f: () => (bench.short.value = !bench.short.value),
    h: outside.hang,
    p: outside.photo,
    '?': outside.help,
    ' ': bench.take,
    Backspace: bench.voidLast,
  }
  const command = commands[event.key] ?? commands[event.key.toLowerCase()]
  if (command) {
    event.preventDefault()
    command()
  }
}
