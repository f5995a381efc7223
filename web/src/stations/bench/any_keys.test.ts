import { afterAll, afterEach, beforeEach, expect, test, vi } from 'vitest'
import { flushPromises } from '@vue/test-utils'
import type { ReadingIn, ReadingOut } from '@/api/schema'
import { blankSheet, openBench, type OpenBench } from '@/testing/bench'
import { shop, type Asked } from '@/testing/shop'
import { offline, waiting } from './queue'

/** Numbers that look random and are the same at each run (Park and Miller 1988, from memory). */
function random(seed: number) {
  let state = seed
  const next = () => (state = (state * 48271) % 2147483647) / 2147483647
  return { next, of: <T>(list: readonly T[]) => list[Math.floor(next() * list.length)]! }
}

/** A server that keeps what it acknowledges, and can be away or slow to be believed. */
class Record {
  readings = new Map<string, ReadingOut>()
  away = false

  private readonly id = (asked: Asked) => asked.path.split('/').at(-2)!

  open(): void {
    shop.when('GET', '/api/bench/sheets/7', () => this.answer(this.sheet()))
    shop.when('POST', '/api/bench/*', (asked) => {
      if (this.away) throw new TypeError('Failed to fetch')
      if (asked.path.endsWith('/readings')) this.keep(asked.body as ReadingIn)
      if (asked.path.endsWith('/void')) this.readings.get(this.id(asked))!.voided ??= 'voided'
      if (asked.path.endsWith('/restore')) this.restore(this.id(asked))
      return this.answer({ id: 1, client_id: '', sheet_id: 7 })
    })
  }

  sheet = () => ({ ...blankSheet(), readings: [...this.readings.values()] })

  private answer(body: unknown) {
    if (this.away) throw new TypeError('Failed to fetch')
    return { body }
  }

  private keep({ client_id, quantity, typed }: ReadingIn): void {
    if (this.readings.has(client_id)) return
    this.readings.set(client_id, { client_id, quantity, typed, voided: null } as ReadingOut)
  }

  private restore(of: string): void {
    const read = this.readings.get(of)!
    const client_id = `${of}, again`
    if (read.voided && !this.readings.has(client_id))
      this.readings.set(client_id, { ...read, client_id, voided: null })
  }
}

const KEYS = [
  ...['1', '8', '6', '0', '.', '5', '2', 'Enter', 'Enter', 'Enter', 'Backspace', 'Backspace'],
  ...[
    'ArrowDown',
    'ArrowUp',
    'PageDown',
    'PageUp',
    'Escape',
    'k',
    't',
    'z',
    'n',
    'r',
    'u',
    'f',
    'c',
  ],
] as const

/** Some are usual of what is asked, some of nothing that is. */
const USUAL = ['186', '210', '15', '60.5', '58.4', '0.3', 'TAG-17']

let open: OpenBench

/** The page is loaded again; what waited on disk is there again. */
async function reloaded(record: Record): Promise<void> {
  const left = [...waiting]
  open.close()
  waiting.push(...left)
  open = await openBench(record.sheet(), [], [], () => record.open())
  await open.press()
}

beforeEach(() => {
  vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 20 })
})
afterEach(() => {
  open.close()
  vi.useRealTimers()
})

const had = { taken: 0, voids: 0 }

test.each([1, 2, 3, 5, 8, 13, 21, 34, 55, 89])(
  '200 keys, run %i: nothing lost, nothing voided unseen',
  async (seed) => {
    const chance = random(seed)
    const record = new Record()
    open = await openBench(blankSheet())
    record.open()
    const taken = new Set<string>() // what the Bench took, by any key
    let voids = 0 // presses that may void: alone, on an entry that was left empty
    const look = () => {
      for (const w of waiting) if (w.what === 'reading') taken.add(w.id)
    }
    for (let n = 0; n < 200; n++) {
      const key = chance.of(KEYS)
      const doing = chance.next()
      const { undoable } = open.bench
      const before = [undoable.value.length, open.bench.edited.value] as const
      if (doing < 0.03) record.away = !record.away
      else if (doing < 0.05) await reloaded(record)
      else if (doing < 0.08) await open.became(record.away ? {} : record.sheet())
      else if (doing < 0.3) open.burst(chance.of(USUAL))
      else if (doing < 0.4)
        open.bench.go(chance.of(['weight', 'edge_length', 'edge_angle', 'hardness']))
      else if (doing < 0.5) await open.hold(key, 5)
      else if (doing < 0.57) await open.alt(chance.of(['r', 'u', 'n', 'f', 'c', 'z', 'a']))
      else await open.press(key)
      look()
      if (undoable.value.length > before[0]) {
        voids += undoable.value.length - before[0]
        expect([undoable.value.length - before[0], key, before[1]]).toEqual([1, 'Backspace', false])
        expect(open.bench.said.value).toMatch(/voided; it stays in the history$/)
      }
      await vi.advanceTimersByTimeAsync(5)
      look()
    }
    record.away = false
    await vi.advanceTimersByTimeAsync(3000)
    await flushPromises()
    expect(offline.value).toBeNull()
    const kept = [...record.readings.keys()].filter((id) => !id.endsWith(', again'))
    expect(new Set(kept)).toEqual(taken)
    expect(waiting.filter((w) => !w.refused)).toEqual([])
    const voided = [...record.readings.values()].filter((r) => r.voided).length
    expect(voided).toBe(voids)
    had.taken += taken.size
    had.voids += voids
  },
)

afterAll(() => {
  expect(had.taken).toBeGreaterThan(50) // there was something to lose
  expect(had.voids).toBeGreaterThan(2)
})
