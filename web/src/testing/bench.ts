import { QUERIES } from '@/api/queries'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { defineComponent, h } from 'vue'
import type { BenchSheetOut, ReadingOut } from '@/api/schema'
import { useBench } from '@/stations/bench/bench'
import { onEntryKey } from '@/stations/bench/keys'
import { waiting } from '@/stations/bench/queue'
import { Stream } from './setup'
import { refusal, shop } from './shop'
import registry from './typed_readings.json'

export const SHEET = 7

/** A quantity as the registry has it, at a stop of the test's own. */
function quantity(key: string, stop: string, more: object = {}) {
  return { ...registry.quantities.find((q) => q.key === key)!, stop, required: true, ...more }
}

const choice = (key: string) => ({ key, label: key.replaceAll('_', ' ') })

const QUANTITIES = [
  quantity('weight', 'weigh'),
  quantity('edge_length', 'lengths'),
  quantity('blade_length', 'lengths', { required: false }),
  quantity('edge_angle', 'edge'),
  quantity('hardness', 'hardness'),
]
const CONSTRUCTION = {
  ...{ key: 'construction', label: 'construction', stop: 'construction', method: '', free: false },
  ...{ choices: ['mono', 'clad_three'].map(choice), aspects: [choice('')], required: true },
  ...{ multiple: false, photo: false },
}
const TO_MEND = { ...CONSTRUCTION, key: 'to_mend', label: 'to mend', free: true, required: false }

/** Something looked at when the knife is finished, as the registry has it. */
export const finishItem = (key: string) => ({
  ...CONSTRUCTION,
  ...{ key, label: key, stop: 'finish', choices: ['fine', 'minor'].map(choice), observed: true },
})

const asked = ({ key, label, stop, required }: { [key: string]: unknown }, observed: boolean) =>
  ({ key, label, stop, required, observed }) as BenchSheetOut['questions'][number]

/** A sheet nothing was measured of yet. */
export function blankSheet(changes: Partial<BenchSheetOut> = {}): BenchSheetOut {
  return {
    id: SHEET,
    piece: { id: 1, name: 'Test gyuto 210', tag: 'T-1', knife_type: 'gyuto' },
    finished_at: null,
    readings: [],
    figures: {},
    questions: [
      asked(CONSTRUCTION, true),
      ...QUANTITIES.map((q) => asked(q, false)),
      asked(TO_MEND, true),
    ],
    observations: [],
    checks: [],
    claims: [],
    expected: {},
    usual: {},
    ...changes,
  } as unknown as BenchSheetOut
}

export function readingOf(client_id: string, of: string, typed: string): ReadingOut {
  return { client_id, quantity: of, typed, voided: null } as ReadingOut
}

/** What a tray of instruments says of one of them. */
export function instrument(id: number, kind: string, more: object = {}) {
  const plain = { address: '', certified: null, stand_in: false, retired: false, state: '' }
  return { id, name: `${kind} ${id}`, kind, measures: [kind], ...plain, ...more }
}

/** The closed lists of the trade, as far as a Bench reads them. */
export const catalogueOf = (finish: object[] = []) => ({
  ...{ quantities: QUANTITIES, items: [CONSTRUCTION, TO_MEND, ...finish], stops: [] },
  ...{ units: registry.units, knife_types: [registry.knife_type] },
})

/** A Bench with its entry, as a person at its keyboard has it; every reading is stored. */
export async function openBench(
  sheet = blankSheet(),
  instruments: object[] = [],
  finish: object[] = [],
  answers: () => void = () => undefined,
) {
  const said = { sheet }
  shop.when('GET', `/api/bench/sheets/${SHEET}`, () => ({ body: said.sheet }))
  shop.when('GET', '/api/catalogue', { body: catalogueOf(finish) })
  shop.when('GET', '/api/instruments', { body: instruments })
  shop.when('POST', '/api/bench/*', { body: { id: 1, client_id: '', sheet_id: SHEET } })
  answers()
  const queryClient = new QueryClient({ defaultOptions: { queries: { ...QUERIES, retry: false } } })
  let bench!: ReturnType<typeof useBench>
  let focused = 0
  let selected = false
  const focus = (whole = false) => {
    focused++
    selected = whole
  }
  const page = defineComponent({
    setup() {
      bench = useBench(SHEET, focus)
      return () => h('div')
    },
  })
  const mounted = mount(page, { global: { plugins: [[VueQueryPlugin, { queryClient }]] } })
  await flushPromises()
  const nothing = () => undefined
  const outside = {
    hang: nothing,
    help: nothing,
    photo: nothing,
    note: () => (bench.note.value = ''),
    signOff: nothing,
    askToSignOff: nothing,
    focus,
  }

  /** A key as a keyboard sends it: what no command takes is typed over what is selected. */
  function struck(key: string, how: KeyboardEventInit = {}): void {
    const event = new KeyboardEvent('keydown', { key, cancelable: true, ...how })
    onEntryKey(event, bench, outside)
    if (!event.defaultPrevented && !how.altKey) {
      const before = selected ? '' : bench.text.value
      if (key.length === 1) bench.text.value = before + key
      if (key === 'Backspace') bench.text.value = before.slice(0, -1)
      if (key.length === 1 || key === 'Backspace') selected = false
    }
  }

  async function strike(key: string, how: KeyboardEventInit = {}): Promise<void> {
    struck(key, how)
    await flushPromises()
  }

  async function press(...keys: string[]): Promise<void> {
    await flushPromises()
    for (const key of keys) await strike(key)
  }

  return {
    bench,
    press,
    /** A key with Alt, and one that is held down: pressed, and sent again and again. */
    alt: (key: string) => strike(key, { altKey: true, code: `Key${key.toUpperCase()}` }),
    /** As a scanner or an instrument at a keyboard wedge types: all at once, and Enter. */
    burst(text: string): void {
      for (const key of [...text, 'Enter']) struck(key)
    },
    async hold(key: string, repeats = 12): Promise<void> {
      await strike(key)
      await this.repeat(key, repeats)
    },
    async repeat(key: string, times: number): Promise<void> {
      for (let n = 0; n < times; n++) await strike(key, { repeat: true })
    },
    /** Each followed by Enter. */
    async type(...texts: string[]): Promise<void> {
      for (const text of texts) await press(...text, 'Enter')
    },
    readings: () => shop.bodies('POST', `/api/bench/sheets/${SHEET}/readings`),
    observations: () => shop.bodies('POST', `/api/bench/sheets/${SHEET}/observations`),
    voids: () => shop.of('POST', '/api/bench/readings/*').map((a) => [a.path, a.body]),
    refuse: (...how: Parameters<typeof refusal>) =>
      shop.when('POST', `/api/bench/sheets/${SHEET}/readings`, refusal(...how)),
    accept: () =>
      shop.when('POST', '/api/bench/*', { body: { id: 1, client_id: '', sheet_id: SHEET } }),
    /** The server has the sheet so from now on, and the Bench looked. */
    async became(changes: Partial<BenchSheetOut>): Promise<void> {
      said.sheet = { ...said.sheet, ...changes }
      await bench.query.refetch()
      await flushPromises()
    },
    stream: () => Stream.last!,
    focused: () => focused,
    close: () => {
      mounted.unmount()
      waiting.splice(0)
    },
  }
}

export type OpenBench = Awaited<ReturnType<typeof openBench>>
