import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { flushPromises } from '@vue/test-utils'
import {
  blankSheet,
  catalogueOf,
  finishItem,
  instrument,
  openBench,
  readingOf,
  type OpenBench,
} from '@/testing/bench'
import { refusal, shop } from '@/testing/shop'
import { millimetres } from './entry'
import { waiting } from './queue'

let open: OpenBench
const begin = async (...how: Parameters<typeof openBench>) => (open = await openBench(...how))
const at = () => open.bench.asked.value?.label
const typed = () => open.readings().map((r) => r.typed)

beforeEach(() => vi.spyOn(document, 'hasFocus').mockReturnValue(true))
afterEach(() => open.close())

describe('a number, Enter, the next', () => {
  test('each reading goes with its quantity, unit and an id of its own', async () => {
    await begin()
    await open.type('1', '186', '8 1/4 in')
    expect(open.observations()).toMatchObject([{ item: 'construction', value: 'mono' }])
    expect(open.readings()).toMatchObject([
      { quantity: 'weight', typed: '186', default_unit: 'g', method: 'manual', confirmed: false },
      { quantity: 'edge_length', typed: '8 1/4 in', default_unit: 'mm', instrument_id: null },
    ])
    expect(new Set(open.readings().map((r) => r.client_id)).size).toBe(2)
    expect([at(), open.bench.text.value]).toEqual(['blade length', ''])
  })

  test('Enter before the lists of the trade have come counts once they have', async () => {
    let come = (): void => undefined
    const waited = new Promise<void>((resolve) => (come = resolve))
    const had = { body: undefined as unknown }
    await begin(blankSheet({ figures: { weight: {} as never } }), [], [], () => {
      shop.when('GET', '/api/catalogue', async () => {
        await waited
        return { body: had.body }
      })
    })
    had.body = catalogueOf()
    open.bench.go('edge_length')
    await open.type('209')
    expect(open.readings()).toEqual([])
    come()
    await flushPromises()
    expect(open.readings()).toMatchObject([{ quantity: 'edge_length', typed: '209' }])
    expect(open.bench.text.value).toBe('')
  })

  test('it begins at the first question that is open, where it was left at the next visit', async () => {
    await begin(blankSheet({ figures: { weight: {} as never } }))
    expect(at()).toBe('construction')
    open.bench.go('edge_angle')
    await open.press('1', '2')
    open.close()
    await begin()
    expect([at(), open.bench.text.value]).toEqual(['edge angle', '12'])
  })

  test('Enter on an empty entry moves on and stores nothing; arrows move both ways', async () => {
    await begin()
    await open.press('Enter', 'Enter', 'ArrowDown', 'ArrowUp', 'ArrowUp')
    expect(at()).toBe('weight')
    expect(open.readings()).toEqual([])
    await open.press(...Array<string>(9).fill('ArrowUp'))
    expect(at()).toBe('construction')
    await open.press(...Array<string>(9).fill('ArrowDown'))
    expect(at()).toBe('to mend')
  })

  test('a question that is no longer asked makes way for the one after it', async () => {
    await begin()
    open.bench.go('blade_length')
    await open.press('2', '0')
    const left = blankSheet().questions.filter((q) => q.key !== 'blade_length')
    await open.became({ questions: left })
    expect([at(), open.bench.text.value]).toEqual(['edge angle', ''])
    expect(open.bench.said.value).toBe('blade length is no longer asked; “20” was not stored')
    open.bench.go('to_mend')
    await open.became({ questions: left.slice(0, -1) })
    expect(at()).toBe('hardness')
  })

  test('what comes back late moves nobody who went on', async () => {
    await begin()
    const all = blankSheet().questions
    const without = (...keys: string[]) => all.filter((q) => !keys.includes(q.key))
    open.bench.go('edge_angle')
    await open.became({ questions: without('blade_length') })
    expect(at()).toBe('edge angle')
    await open.became({ questions: without('blade_length', 'edge_angle') })
    expect(at()).toBe('hardness') // the next in the sheet's own order, not the first that is open
    await open.became({ questions: all })
    expect(at()).toBe('hardness')
    await open.became({ questions: without('hardness', 'to_mend') })
    expect(at()).toBe('edge angle')
  })

  test('the short sheet asks only for what is required, and is kept', async () => {
    await begin()
    await open.alt('f')
    open.bench.go('edge_length')
    await open.press('ArrowDown')
    expect(at()).toBe('edge angle')
    open.close()
    await begin()
    expect(open.bench.short.value).toBe(true)
    open.bench.goToStop('lengths')
    expect(at()).toBe('edge length')
    open.bench.goToStop('no such stop')
    expect(at()).toBe('edge length')
  })

  test('what is missing is what is required and neither measured nor on its way', async () => {
    await begin(blankSheet({ figures: { weight: {} as never } }))
    open.bench.go('hardness')
    await open.type('60.5')
    expect(open.bench.missing.value.map((q) => q.key)).toEqual([
      'construction',
      'edge_length',
      'edge_angle',
      'hardness',
    ])
    shop.when('POST', '/api/bench/*', 'unreachable')
    open.bench.go('hardness')
    await open.type('60.5')
    expect(open.bench.missing.value.map((q) => q.key)).not.toContain('hardness')
  })

  test('a choice that is none stays in the entry and is told', async () => {
    await begin()
    await open.type('9')
    expect(open.bench.fault.value).toBe(
      'construction: 9 is not accepted; accepted: a number from 1 to 2, or the words of a choice',
    )
    expect([at(), open.bench.text.value, open.observations()]).toEqual(['construction', '9', []])
  })

  test('where words are asked, letters are words', async () => {
    await begin()
    open.bench.go('to_mend')
    await open.type('round the choil')
    expect(open.observations()).toMatchObject([{ item: 'to_mend', note: 'round the choil' }])
  })
})

describe('letters are commands while the entry is empty', () => {
  test('U switches the unit of a bare number', async () => {
    await begin()
    open.bench.go('weight')
    await open.press('u')
    await open.type('6.5')
    expect(open.readings()).toMatchObject([{ typed: '6.5', default_unit: 'oz' }])
    open.bench.go('edge_length')
    expect(open.bench.unit.value).toBe('mm')
    open.bench.go('weight')
    expect(open.bench.unit.value).toBe('oz') // it stays for this sheet
    await open.press('u')
    expect(open.bench.unit.value).toBe('g')
  })

  test('R reads the last again', async () => {
    await begin(blankSheet({ readings: [readingOf('a', 'edge_angle', '15')] }))
    await open.alt('r')
    expect(at()).toBe('edge angle')
    open.bench.go('weight')
    await open.type('186')
    await open.press('r')
    expect(at()).toBe('weight')
  })

  test('at a list and where words are asked they are words, and commands with Alt', async () => {
    await begin()
    await open.type('clad three') // neither clad with a command, nor not applicable
    expect(open.observations()).toMatchObject([{ item: 'construction', value: 'clad_three' }])
    open.bench.go('construction')
    await open.press('n', 'u', 'f', 'c', 'r', 'h', 'z')
    expect([open.bench.text.value, open.bench.short.value]).toEqual(['nufcrhz', false])
    await open.alt('n')
    expect(open.bench.question.value).toEqual({ kind: 'not-applicable' })
  })

  test('N says why something does not apply; without a reason nothing is stored', async () => {
    await begin()
    open.bench.go('edge_angle')
    await open.press('n', 'Enter')
    expect(open.bench.fault.value).toBe('Say why it does not apply, or press Esc.')
    await open.type('not ground yet')
    expect(open.observations()).toMatchObject([
      { item: 'edge_angle', value: 'not_applicable', note: 'not ground yet' },
    ])
    await open.press('n', 'x', 'Escape')
    expect([open.bench.question.value, open.bench.text.value]).toEqual([null, ''])
  })

  test('keys with a modifier are the browser’s', async () => {
    await begin()
    const event = new KeyboardEvent('keydown', { key: 'r', ctrlKey: true, cancelable: true })
    const { onEntryKey } = await import('./keys')
    onEntryKey(event, open.bench, {} as never)
    expect(event.defaultPrevented).toBe(false)
  })
})

const LATE = [0, 300, 1500]

/** A server that answers so late, by the clock of the test. */
function answersAfter(ms: number): void {
  shop.when('POST', '/api/bench/*', async () => {
    await new Promise((resolve) => setTimeout(resolve, ms))
    return { body: { id: 1, client_id: '', sheet_id: 7 } }
  })
}

describe('what is not measured', () => {
  test('an estimate or what was told is kept as it was typed, whatever it begins with', async () => {
    await begin()
    open.bench.go('hardness')
    await open.type('about 58')
    open.bench.go('edge_angle')
    await open.type('12-15')
    open.bench.go('weight')
    await open.type('told 190')
    expect(open.readings().map((r) => r.typed)).toEqual(['about 58', '12-15', 'told 190'])
  })

  test('one wider than can be waits beside its question', async () => {
    await begin()
    open.bench.go('hardness')
    await open.type('58-80')
    expect(open.readings()).toEqual([])
    expect(open.bench.question.value).toMatchObject({ kind: 'unusual', never: true })
  })
})

describe('one key an answer', () => {
  const pause = (ms: number) => vi.advanceTimersByTimeAsync(ms)
  beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] }))
  afterEach(() => void vi.useRealTimers())

  test('a digit chooses without Enter; an Enter out of habit passes over nothing', async () => {
    await begin()
    await open.press('2')
    await pause(80)
    expect(open.observations()).toMatchObject([{ item: 'construction', value: 'clad_three' }])
    expect(at()).toBe('weight')
    await open.press('Enter')
    expect(at()).toBe('weight')
    await open.press('Enter')
    expect(at(), 'only one Enter belongs to the digit').toBe('edge length')
  })

  test('a comma after a digit goes back for its note, however slow the hand', async () => {
    await begin()
    await open.press('2')
    await pause(300)
    await open.press(',')
    expect([at(), open.bench.text.value]).toEqual(['construction', '2, '])
    await open.type('seen at the choil')
    expect(open.observations()).toMatchObject([
      { value: 'clad_three', note: '' },
      {
        value: 'clad_three',
        note: 'seen at the choil',
        replaces: open.observations()[0]!.client_id,
      },
    ])
    expect(at()).toBe('weight')
    await open.press('3')
    await pause(5000)
    await open.press(',')
    expect(at()).toBe('weight')
  })

  test('a note to an answer that was refused meets what that answer met', async () => {
    await begin()
    shop.when('POST', '/api/bench/sheets/*', refusal(409, 'conflict', 'entered “mono” at another'))
    await open.press('2')
    await pause(300)
    await open.press(',')
    await open.type('seen at the choil')
    expect(open.bench.stuck.value.map((w) => w.words)).toEqual(['clad three, seen at the choil'])
    expect(open.bench.stuck.value[0]).toMatchObject({ body: { replaces: null } })
  })

  test('what comes at once is one entry, as from a scanner', async () => {
    await begin()
    await open.press('2', '1')
    await pause(80)
    expect([open.bench.text.value, open.observations()]).toEqual(['21', []])
  })

  test('a digit held down answers one question', async () => {
    const lists = ['spine', 'choil'].map(finishItem)
    await begin(blankSheet({ questions: lists as never }), [], lists)
    await open.press('2')
    await pause(80)
    expect(at()).toBe('choil')
    await open.repeat('2', 9)
    await pause(200)
    expect(open.observations()).toHaveLength(1)
  })

  test('= takes what earlier pieces of the model showed', async () => {
    const usual = { value: 'mono', text: 'mono', tag: 'T-0' }
    await begin(blankSheet({ usual: { construction: usual } }))
    await open.press('=')
    expect(open.observations()).toMatchObject([{ item: 'construction', value: 'mono' }])
    expect(open.bench.said.value).toContain('as T-0')
    open.bench.go('to_mend')
    await open.type('= sign rubbed off')
    expect(open.observations()).toHaveLength(2)
  })
})

test('a note and a photo go with the next entry, and with no other', async () => {
  await begin()
  open.bench.go('weight')
  await open.alt('o')
  open.bench.note.value = 'with the guard on'
  open.bench.photoId.value = 5
  await open.type('186')
  await open.type('210')
  expect(open.readings()).toMatchObject([
    { typed: '186', note: 'with the guard on', photo_id: 5 },
    { typed: '210', note: '', photo_id: null },
  ])
})

describe('no key can hurt', () => {
  const TWO = { readings: [readingOf('a', 'weight', '186'), readingOf('b', 'edge_angle', '15')] }

  test('Backspace voids the last reading of the question, and of no other', async () => {
    await begin(blankSheet(TWO))
    open.bench.go('weight')
    await open.press('Backspace')
    expect(open.voids()).toEqual([
      ['/api/bench/readings/a/void', { reason: 'taken back at the bench' }],
    ])
    await open.press('Backspace', 'Backspace')
    expect(open.bench.said.value).toBe('no reading of weight to void; ↑ goes back')
    expect([open.voids().length, at()]).toEqual([1, 'weight'])
  })

  test('held down it voids nothing after the first', async () => {
    const many = ['a', 'b', 'c', 'd'].map((id) => readingOf(id, 'weight', '186'))
    await begin(blankSheet({ readings: many }))
    open.bench.go('weight')
    await open.hold('Backspace')
    expect(open.voids().length).toBe(1)
  })

  test('the press that ends an edit voids nothing, nor does any after it', async () => {
    await begin(blankSheet(TWO))
    open.bench.go('weight')
    await open.press('1', '8', 'Backspace', 'Backspace', 'Backspace', 'Backspace')
    expect([open.bench.text.value, open.voids()]).toEqual(['', []])
    open.bench.go('edge_angle')
    await open.press('2')
    await open.hold('Backspace')
    expect(open.voids()).toEqual([])
  })

  test('a command held down is one', async () => {
    await begin()
    open.bench.go('weight')
    await open.hold('f')
    expect(open.bench.short.value).toBe(true)
    await open.hold('Enter')
    expect(at()).toBe('edge length')
  })

  test('each void is told and taken back, the last first', async () => {
    await begin(blankSheet(TWO))
    for (const key of ['weight', 'edge_angle']) {
      open.bench.go(key)
      await open.press('Backspace')
    }
    expect(open.bench.said.value).toBe('edge angle 15 voided; it stays in the history')
    await open.press('z')
    expect(open.bench.said.value).toBe('edge angle 15 counts again')
    await open.press('z', 'z')
    expect(open.voids().map(([path]) => path)).toEqual(
      ['a/void', 'b/void', 'b/restore', 'a/restore'].map((p) => `/api/bench/readings/${p}`),
    )
    expect(open.bench.said.value).toBe('nothing was voided here')
  })
})

test('a stop at a time by one key, there and back', async () => {
  await begin()
  await open.press('PageDown', 'PageDown')
  expect(at()).toBe('edge length')
  await open.press('PageUp')
  expect(at()).toBe('weight')
})

test('what a stop has open is fine by one key; exceptions are entered over it', async () => {
  const items = ['rivets', 'tip', 'spine'].map(finishItem)
  const tip = { id: 3, item: 'tip', aspect: '', client_id: 'x', value: 'minor' }
  await begin(blankSheet({ questions: items as never, observations: [tip as never] }), [], items)
  open.bench.go('rivets')
  await open.alt('a')
  const seen = open.observations().map((o) => [o.item, o.value, o.replaces])
  expect(seen).toEqual([
    ['rivets', 'fine', null],
    ['spine', 'fine', null],
  ])
  await open.type('2')
  expect(open.observations().at(-1)).toMatchObject({ item: 'rivets', value: 'minor' })
})

describe('an unusual reading is asked about before it is sent', () => {
  beforeEach(async () => {
    await begin()
    open.bench.go('edge_angle')
    await open.type('30')
  })

  test('where it was typed, with what was typed', () => {
    expect([at(), open.bench.text.value, open.readings()]).toEqual(['edge angle', '30', []])
    expect(open.bench.question.value).toMatchObject({
      kind: 'unusual',
      message: 'edge angle 30° per side is unusual for a gyuto (typical 9 to 16°)',
      suggestion: '30 incl',
      never: false,
    })
  })

  test.each([
    ['k', '30'],
    ['t', '30 incl'],
  ])('%s stores %s, once and confirmed, and goes on', async (key, stored) => {
    await open.press(key)
    expect(open.readings()).toMatchObject([{ typed: stored, confirmed: true }])
    expect([at(), waiting]).toEqual(['hardness', []])
  })

  test('Enter alone settles nothing; the next reading takes the place of this one', async () => {
    await open.press('Enter', 'x')
    expect(open.bench.question.value).not.toBeNull()
    await open.type('15')
    expect([typed(), at()]).toEqual([['15'], 'hardness'])
  })

  test('Esc selects it, so that it is typed over', async () => {
    await open.press('Escape')
    expect([at(), open.bench.text.value]).toEqual(['edge angle', '30'])
    await open.type('15')
    expect(typed()).toEqual(['15'])
  })
})

describe('what cannot be is not sent', () => {
  test('it stays beside its question, and what is typed next takes its place', async () => {
    await begin()
    open.bench.go('weight')
    open.bench.text.value = 'heavy'
    await open.press('Enter')
    expect(open.bench.question.value).toMatchObject({ never: true })
    expect([at(), open.bench.text.value, open.readings()]).toEqual(['weight', 'heavy', []])
    await open.type('186')
    expect([typed(), waiting]).toEqual([['186'], []])
  })

  test('with a suggestion it can be taken, and never be kept', async () => {
    await begin()
    open.bench.go('edge_length')
    await open.type('8')
    expect(open.bench.question.value).toMatchObject({ never: true, suggestion: '8 in' })
    await open.press('k')
    expect(open.readings()).toEqual([])
    open.bench.text.value = ''
    await open.type('8')
    await open.press('t')
    expect(typed()).toEqual(['8 in'])
  })
})

describe('a server that is slow', () => {
  beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 50 }))
  afterEach(() => vi.useRealTimers())

  test.each(LATE)('%i ms: each goes where it was typed, each once', async (ms) => {
    await begin()
    answersAfter(ms)
    open.bench.go('weight')
    await open.type('186', '210', '205', '15')
    expect([at(), open.bench.text.value]).toEqual(['hardness', ''])
    await vi.waitFor(() => expect(waiting).toEqual([]), 10_000)
    expect(typed()).toEqual(['186', '210', '205', '15'])
  })

  test.each(LATE)(
    '%i ms: what it refuses waits beside the question; the entry is left',
    async (ms) => {
      await begin()
      shop.when('POST', '/api/bench/*', async () => {
        await new Promise((resolve) => setTimeout(resolve, ms))
        return refusal(422, 'unusual-value', 'unusual', '6.5 oz')
      })
      open.bench.go('weight')
      await open.type('186')
      await open.press('2', '0')
      await vi.waitFor(() => expect(open.bench.stuck.value.length).toBe(1), 5000)
      expect([at(), open.bench.text.value]).toEqual(['edge length', '20'])
      open.accept()
      open.bench.settleRefused(open.bench.stuck.value[0]!, 'take')
      await flushPromises()
      expect(open.readings().at(-1)).toMatchObject({ typed: '6.5 oz', confirmed: true })
      expect([at(), open.bench.text.value, waiting]).toEqual(['edge length', '20', []])
    },
  )
})

test('one refused is typed again at its question; what was half typed waits at its own', async () => {
  await begin()
  open.refuse(409, 'conflict', 'signed off')
  open.bench.go('weight')
  await open.type('186')
  await open.press('2', '0')
  open.bench.settleRefused(open.bench.stuck.value[0]!, 'correct')
  expect([at(), open.bench.text.value, waiting]).toEqual(['weight', '186', []])
  open.accept()
  await open.type('187')
  expect([typed(), at(), open.bench.text.value]).toEqual([['186', '187'], 'edge length', '20'])
})

test('what is half typed waits at its question, also over a visit', async () => {
  await begin()
  open.bench.go('weight')
  await open.press('1', '8', 'ArrowDown', '2', 'ArrowUp')
  expect([at(), open.bench.text.value]).toEqual(['weight', '18'])
  open.close()
  await begin()
  await open.press('ArrowDown')
  expect([at(), open.bench.text.value]).toEqual(['edge length', '2'])
})

test('what this browser keeps can be damaged; the Bench opens', async () => {
  for (const key of ['draft.7', 'waiting', 'instruments'])
    localStorage.setItem(`maple-rook.${key}`, '{"at": [')
  await begin()
  await open.type('1')
  expect(open.observations()).toHaveLength(1)
})

describe('something seen', () => {
  test('corrected before the sheet shows it, is entered over one’s own', async () => {
    await begin()
    const sent = open.observations
    await open.type('1')
    open.bench.go('construction')
    await open.type('2') // the sheet still shows nothing there
    expect(sent()[1]).toMatchObject({ value: 'clad_three', replaces: sent()[0]!.client_id })
    const theirs = { id: 9, item: 'construction', aspect: '', client_id: 'theirs' }
    await open.became({ observations: [theirs as never] })
    open.bench.go('construction')
    await open.type('1') // what another bench entered meanwhile is shown, and replaced
    expect(sent()[2]).toMatchObject({ replaces: 'theirs' })
  })

  test('over somebody else’s is kept, and can be entered over theirs', async () => {
    await begin()
    shop.when('POST', '/api/bench/sheets/*', refusal(409, 'conflict', 'entered “mono” at another'))
    await open.type('2')
    expect(open.bench.stuck.value.map((w) => w.refused)).toEqual(['entered “mono” at another'])
    await open.became({
      observations: [{ item: 'construction', aspect: '', client_id: 'theirs' } as never],
    })
    open.accept()
    await open.bench.enterOver(waiting[0]!)
    await flushPromises()
    expect(open.observations().at(-1)).toMatchObject({ value: 'clad_three', replaces: 'theirs' })
    expect(waiting).toEqual([])
  })
})

describe('a check that contradicts', () => {
  const CHECK = {
    ...{ key: 'angle', quantities: ['edge_angle'], wrong: '30 is twice 15', why: 'w', mend: 'm' },
    ...{ quantity: 'edge_angle', typed: '30 incl', stands: false, decision: 'before' },
  } as never
  beforeEach(() =>
    begin(blankSheet({ checks: [CHECK], readings: [readingOf('r', 'edge_angle', '30')] })),
  )

  test('stands when it is decided so, over the decision before', async () => {
    await open.alt('c')
    await open.press('k')
    expect(open.observations()).toMatchObject([
      { item: 'check.angle', value: 'stands', note: '30 is twice 15', replaces: 'before' },
    ])
  })

  test('is put right by one key: the wrong reading voided with why, the right one stored', async () => {
    await open.alt('c')
    await open.press('t')
    expect(open.voids()).toEqual([
      ['/api/bench/readings/r/void', { reason: 'corrected: 30 is twice 15' }],
    ])
    expect(open.readings()).toMatchObject([{ quantity: 'edge_angle', typed: '30 incl' }])
  })

  test('waits when it is left for later; where none is open that is said', async () => {
    await open.alt('c')
    await open.press('Escape')
    expect([open.bench.question.value, open.observations()]).toEqual([null, []])
    await open.became({ checks: [] })
    await open.alt('c')
    expect(open.bench.said.value).toBe('no check is open')
  })
})

test('a reading is voided for a reason by its number', async () => {
  await begin()
  open.bench.question.value = { kind: 'void', reading: readingOf('r', 'weight', '186') }
  await open.press('9')
  expect(open.voids()).toEqual([])
  await open.press('3')
  expect(open.voids()).toEqual([['/api/bench/readings/r/void', { reason: 'wrong knife' }]])
  open.bench.question.value = { kind: 'void', reading: readingOf('q', 'weight', '187') }
  await open.press('Escape')
  expect([open.bench.question.value, open.voids().length]).toEqual([null, 1])
})

describe('instruments', () => {
  const SCALE = instrument(3, 'scale', { address: '127.0.0.1:1', state: 'ready', stand_in: true })
  const TAKE = '/api/instruments/3/take'

  test('Space takes the reading of the one on the line, with its id', async () => {
    await begin(blankSheet({ expected: { weight: 180 } }), [SCALE])
    open.bench.go('weight')
    shop.when('POST', TAKE, {
      body: { client_id: 'of-the-scale', typed: '186.4 g', instrument_id: 3 },
    })
    await open.press(' ')
    expect(shop.bodies('POST', TAKE)).toEqual([{ quantity: 'weight', about: 180 }])
    expect(open.readings()).toMatchObject([
      { client_id: 'of-the-scale', typed: '186.4 g', method: 'instrument', instrument_id: 3 },
    ])
  })

  test('one that fails is named, and typing goes on', async () => {
    await begin(blankSheet(), [SCALE])
    open.bench.go('weight')
    shop.when('POST', TAKE, refusal(422, 'instrument', 'scale 3: no reading within 2 s'))
    await open.press(' ')
    expect(open.bench.fault.value).toBe('scale 3: no reading within 2 s')
    await open.type('186')
    expect(typed()).toEqual(['186'])
  })

  test('where none is on a line that is said', async () => {
    await begin()
    open.bench.go('weight')
    await open.press(' ')
    expect(open.bench.said.value).toBe('no scale is on a line; type the reading')
  })

  test('a reading that comes late does not go to another question', async () => {
    await begin(blankSheet(), [SCALE])
    open.bench.go('weight')
    shop.when('POST', TAKE, () => {
      open.bench.go('edge_length')
      return { body: { client_id: 'x', typed: '186 g', instrument_id: 3 } }
    })
    await open.press(' ')
    expect(open.readings()).toEqual([])
  })

  test('what one sends by itself is stored where it is asked, else told', async () => {
    await begin(blankSheet(), [SCALE])
    const sent = { what: 'reading', instrument_id: 3, name: 'scale 3', typed: '186 g' }
    open.stream().tell({ ...sent, client_id: 'a' })
    expect(open.bench.said.value).toBe('scale 3 sent 186 g; construction is asked')
    open.bench.go('weight')
    open.stream().tell({ ...sent, client_id: 'b' })
    await flushPromises()
    expect(open.readings()).toMatchObject([{ client_id: 'b', instrument_id: 3 }])
    vi.spyOn(document, 'hasFocus').mockReturnValue(false) // another window is worked in
    open.bench.go('weight')
    open.stream().tell({ ...sent, client_id: 'c' })
    await flushPromises()
    expect(open.readings()).toHaveLength(1)
  })

  test('its state is what the line said last; a server that is gone is said', async () => {
    await begin(blankSheet(), [SCALE])
    open
      .stream()
      .tell({ what: 'instrument', instrument_id: 3, state: 'dropout', words: 'no answer' })
    expect(open.bench.instruments.onLine.value[0]).toMatchObject({ state: 'dropout' })
    open.stream().onerror?.()
    expect(open.bench.instruments.onLine.value[0]).toMatchObject({ state: 'not_reached' })
  })

  test('one chosen by hand goes with typed readings while the shop has it, and is kept', async () => {
    const plain = [instrument(4, 'scale'), instrument(5, 'scale')]
    await begin(blankSheet(), plain)
    open.bench.go('weight')
    open.bench.chosen.value.scale = 5
    await open.type('186')
    open.close()
    await begin(blankSheet(), plain)
    open.bench.go('weight')
    await open.type('187')
    open.close()
    await begin(blankSheet(), [plain[0]!, { ...plain[1], retired: true }])
    open.bench.go('weight')
    await open.type('188')
    expect(open.readings().map((r) => r.instrument_id)).toEqual([5, 5, null])
  })

  test('another bench that writes to the sheet is heard of', async () => {
    await begin()
    const before = shop.of('GET', '/api/bench/sheets/7').length
    open.stream().tell({ what: 'sheet', sheet_id: 8 })
    open.stream().tell({ what: 'sheet', sheet_id: 7 })
    await vi.waitFor(() => expect(shop.of('GET', '/api/bench/sheets/7').length).toBe(before + 1))
  })
})

test('the next indent keeps its height and stands 4 mm further along', async () => {
  await begin()
  open.bench.place.value = { above: '24', along: '40,5' }
  for (const hrc of ['60.5', '60']) {
    open.bench.go('hardness')
    await open.type(hrc)
  }
  expect(open.readings()).toMatchObject([
    { above_edge_mm: 24, along_mm: 40.5 },
    { above_edge_mm: 24, along_mm: 44.5 },
  ])
})

test('millimetres are typed with either decimal mark; no place is no number', () => {
  expect(['24', '4,5', '0.5', '', ' ', '-1', 'x'].map(millimetres)).toEqual([
    24,
    4.5,
    0.5,
    null,
    null,
    null,
    null,
  ])
})

test('what was refused is tried again at the next visit', async () => {
  await begin()
  open.refuse(422, 'invalid-value', 'no')
  open.bench.go('weight')
  await open.type('186')
  expect(waiting.map((w) => w.refused)).toEqual(['no'])
  const left = [...waiting]
  open.close()
  waiting.push(...left)
  await begin()
  await flushPromises()
  expect([typed(), waiting]).toEqual([['186', '186'], []])
})
