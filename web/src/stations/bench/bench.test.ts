import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { flushPromises } from '@vue/test-utils'
import { blankSheet, instrument, openBench, readingOf, type OpenBench } from '@/testing/bench'
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

  test('the short sheet asks only for what is required, and is kept', async () => {
    await begin()
    await open.press('f')
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
      'construction: 9 is not accepted; accepted: a number from 1 to 2',
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
    open.bench.go('weight')
    await open.press('u', 'u')
    expect(open.bench.unit.value).toBe('g')
  })

  test('R reads the last again', async () => {
    await begin(blankSheet({ readings: [readingOf('a', 'edge_angle', '15')] }))
    await open.press('r')
    expect(at()).toBe('edge angle')
    open.bench.go('weight')
    await open.type('186')
    await open.press('r')
    expect(at()).toBe('weight')
  })

  test('Backspace on an empty entry voids the last; on a typed one it corrects', async () => {
    await begin(blankSheet({ readings: [readingOf('old', 'edge_angle', '15')] }))
    open.bench.go('weight')
    await open.type('186')
    const [{ client_id }] = open.readings() as [{ client_id: string }]
    await open.press('2', 'Backspace')
    expect(open.voids()).toEqual([])
    await open.press('Backspace', 'Backspace', 'Backspace')
    expect(open.voids()).toEqual([
      [`/api/bench/readings/${client_id}/void`, { reason: 'taken back at the bench' }],
      ['/api/bench/readings/old/void', { reason: 'taken back at the bench' }],
    ])
    expect(at()).toBe('edge angle')
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

describe('an unusual reading is asked about', () => {
  beforeEach(async () => {
    await begin()
    open.refuse(422, 'unusual-value', '30° is unusual: typical 9 to 16', '30 incl')
    open.bench.go('edge_angle')
    await open.type('30')
  })

  test('where it was typed, with what was typed', () => {
    expect([at(), open.bench.text.value]).toEqual(['edge angle', '30'])
    expect(open.bench.question.value).toMatchObject({
      kind: 'unusual',
      message: '30° is unusual: typical 9 to 16',
      suggestion: '30 incl',
      never: false,
    })
    expect(open.bench.stuck.value).toEqual([]) // it is asked about, not put aside
  })

  test.each([
    ['k', '30'],
    ['t', '30 incl'],
  ])('%s stores %s, once and confirmed, and goes on', async (key, stored) => {
    const [{ client_id }] = open.readings() as [{ client_id: string }]
    open.accept()
    await open.press(key)
    expect(open.readings().at(-1)).toMatchObject({ client_id, typed: stored, confirmed: true })
    expect([at(), waiting]).toEqual(['hardness', []])
  })

  test('Esc leaves it to be corrected; Enter alone settles nothing', async () => {
    await open.press('Enter')
    expect(open.bench.question.value).not.toBeNull()
    await open.press('Escape')
    expect([at(), open.bench.text.value, waiting]).toEqual(['edge angle', '30', []])
    open.accept()
    await open.press('Backspace', 'Backspace')
    await open.type('15')
    expect(typed()).toEqual(['30', '15'])
  })
})

test('a person who moved on is brought back to where they were, with what was half typed', async () => {
  await begin()
  let answer!: () => void
  const late = new Promise<void>((resolve) => (answer = resolve))
  shop.when('POST', '/api/bench/sheets/*', async () => {
    await late
    return refusal(422, 'unusual-value', 'unusual')
  })
  open.bench.go('weight')
  await open.type('1860')
  await open.press('2', '0')
  answer()
  await flushPromises()
  expect([at(), open.bench.text.value]).toEqual(['weight', '1860'])
  open.accept()
  await open.press('k')
  expect([at(), open.bench.text.value]).toEqual(['edge length', '20'])
})

describe('what cannot be is refused', () => {
  test('beside its field, and stays there', async () => {
    await begin()
    open.refuse(422, 'invalid-value', 'weight: heavy is not accepted; accepted: a number in g')
    open.bench.go('weight')
    for (const letter of 'heavy') open.bench.text.value += letter
    await open.press('Enter')
    expect(open.bench.fault.value).toContain('a number in g')
    expect([at(), open.bench.text.value, open.bench.question.value]).toEqual([
      'weight',
      'heavy',
      null,
    ])
    expect(open.bench.stuck.value.map((w) => w.words)).toEqual(['heavy'])
    open.accept()
    open.bench.text.value = '186'
    await open.press('Enter') // the correction takes the place of what was refused
    expect([typed(), waiting]).toEqual([['heavy', '186'], []])
  })

  test('with a suggestion it can be taken, and never be kept', async () => {
    await begin()
    open.refuse(422, 'invalid-value', '3 in is no spine', '3 mm')
    open.bench.go('edge_length')
    await open.type('3 in')
    await open.press('k')
    expect(open.bench.question.value).toMatchObject({ never: true })
    open.accept()
    await open.press('t')
    expect(typed()).toEqual(['3 in', '3 mm'])
  })

  test('an observation over somebody else’s is kept, and can be entered over theirs', async () => {
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
    await open.press('c', 'k')
    expect(open.observations()).toMatchObject([
      { item: 'check.angle', value: 'stands', note: '30 is twice 15', replaces: 'before' },
    ])
  })

  test('is put right by one key: the wrong reading voided with why, the right one stored', async () => {
    await open.press('c', 't')
    expect(open.voids()).toEqual([
      ['/api/bench/readings/r/void', { reason: 'corrected: 30 is twice 15' }],
    ])
    expect(open.readings()).toMatchObject([{ quantity: 'edge_angle', typed: '30 incl' }])
  })

  test('waits when it is left for later; where none is open that is said', async () => {
    await open.press('c', 'Escape')
    expect([open.bench.question.value, open.observations()]).toEqual([null, []])
    await open.became({ checks: [] })
    await open.press('c')
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
