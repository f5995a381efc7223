import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { defineComponent, h } from 'vue'
import type { BenchSheetOut, ReadingOut } from '@/api/schema'
import { useBench } from '@/stations/bench/bench'
import { onEntryKey } from '@/stations/bench/keys'
import { waiting } from '@/stations/bench/queue'
import { Stream } from './setup'
import { refusal, shop } from './shop'

export const SHEET = 7

function quantity(key: string, label: string, stop: string, unit: string, more: object = {}) {
  const units = { mm: ['mm', 'in'], g: ['g', 'oz'], dps: ['dps', 'incl'], HRC: ['HRC'] }[unit] ?? []
  const instrument = { g: 'scale', dps: 'angle_gauge', HRC: 'hardness_tester' }[unit] ?? 'caliper'
  return { key, label, stop, unit, entry_unit: unit, units, instrument, required: true, ...more }
}

const choice = (key: string) => ({ key, label: key.replaceAll('_', ' ') })

const QUANTITIES = [
  quantity('weight', 'weight', 'weigh', 'g'),
  quantity('edge_length', 'edge length', 'lengths', 'mm'),
  quantity('blade_length', 'blade length', 'lengths', 'mm', { required: false }),
  quantity('edge_angle', 'edge angle', 'edge', 'dps'),
  quantity('hardness', 'hardness', 'hardness', 'HRC'),
]
const CONSTRUCTION = {
  ...{ key: 'construction', label: 'construction', stop: 'construction', method: '', free: false },
  ...{ choices: ['mono', 'clad_three'].map(choice), aspects: [choice('')], required: true },
  ...{ multiple: false, photo: false },
}
const TO_MEND = { ...CONSTRUCTION, key: 'to_mend', label: 'to mend', free: true, required: false }

const asked = ({ key, label, stop, required }: { [key: string]: unknown }, observed: boolean) =>
  ({ key, label, stop, required, observed }) as BenchSheetOut['questions'][number]

/** A sheet nothing was measured of yet. */
export function blankSheet(changes: Partial<BenchSheetOut> = {}): BenchSheetOut {
  return {
    id: SHEET,
    piece: { id: 1, name: 'Test gyuto 210', tag: 'T-1' },
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

/** A Bench with its entry, as a person at its keyboard has it; every reading is stored. */
export async function openBench(sheet = blankSheet(), instruments: object[] = []) {
  const said = { sheet }
  shop.when('GET', `/api/bench/sheets/${SHEET}`, () => ({ body: said.sheet }))
  shop.when('GET', '/api/catalogue', {
    body: { quantities: QUANTITIES, items: [CONSTRUCTION, TO_MEND], stops: [] },
  })
  shop.when('GET', '/api/instruments', { body: instruments })
  shop.when('POST', '/api/bench/*', { body: { id: 1, client_id: '', sheet_id: SHEET } })
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  let bench!: ReturnType<typeof useBench>
  let focused = 0
  const page = defineComponent({
    setup() {
      bench = useBench(SHEET, () => focused++)
      return () => h('div')
    },
  })
  const mounted = mount(page, { global: { plugins: [[VueQueryPlugin, { queryClient }]] } })
  await flushPromises()
  const outside = { hang: () => undefined, help: () => undefined, photo: () => undefined }

  /** Keys as a keyboard sends them: what no command takes is typed into the entry. */
  async function press(...keys: string[]): Promise<void> {
    await flushPromises()
    for (const key of keys) {
      const event = new KeyboardEvent('keydown', { key, cancelable: true })
      onEntryKey(event, bench, { ...outside, focus: () => focused++ })
      if (!event.defaultPrevented) {
        if (key.length === 1) bench.text.value += key
        if (key === 'Backspace') bench.text.value = bench.text.value.slice(0, -1)
      }
      await flushPromises()
    }
  }

  return {
    bench,
    press,
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
