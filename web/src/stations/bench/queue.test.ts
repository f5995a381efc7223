import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { refusal, shop } from '@/testing/shop'
import type { Waiting } from './queue'

const SENT = '/api/bench/sheets/1/readings'
const STORED = { body: { id: 1, client_id: 'a', sheet_id: 1, replicate: 1 } }

/** The queue as a page that was just opened has it, and who is signed in there. */
async function visit(person?: number) {
  vi.resetModules()
  const { session } = await import('@/api/session')
  session.value = person === undefined ? null : ({ me: { id: person } } as never)
  return import('./queue')
}

function reading(id: string, typed = '186', by?: number): Waiting {
  const body = { client_id: id, quantity: 'weight', typed } as never
  return { what: 'reading', sheetId: 1, id, key: 'weight', words: typed, by, body }
}

const nobody = () => undefined
const arrived = () => shop.bodies('POST', SENT).map((b) => b.client_id)
const kept = () => JSON.parse(localStorage.getItem('maple-rook.waiting') ?? '[]') as Waiting[]

beforeEach(() => vi.useFakeTimers())
afterEach(() => vi.useRealTimers())

describe('nothing entered is lost', () => {
  test('it is on disk before it is sent, and leaves once the server confirmed it', async () => {
    const { enqueue, deliver, waiting } = await visit()
    shop.when('POST', SENT, STORED)
    enqueue(reading('a'))
    expect(kept().map((w) => w.id)).toEqual(['a'])
    const confirmed: number[] = []
    await deliver((_, stored) => confirmed.push(stored.sheet_id), nobody)
    expect([arrived(), confirmed, waiting, kept()]).toEqual([['a'], [1], [], []])
  })

  test('what waits goes oldest first, one after another', async () => {
    const { enqueue, deliver } = await visit()
    shop.when('POST', SENT, STORED)
    for (const id of ['a', 'b', 'c']) enqueue(reading(id))
    await Promise.all([deliver(nobody, nobody), deliver(nobody, nobody)])
    expect(arrived()).toEqual(['a', 'b', 'c'])
  })

  test('while the server is away it stays, and is sent again by itself', async () => {
    const { enqueue, deliver, offline, waiting } = await visit()
    shop.when('POST', SENT, 'unreachable')
    enqueue(reading('a'))
    enqueue(reading('b'))
    await deliver(nobody, nobody)
    const since = offline.value
    expect([since, waiting.length, arrived()]).toEqual([new Date(), 2, ['a']])
    await vi.advanceTimersByTimeAsync(1500)
    expect(offline.value).toEqual(since) // the time it began, not of the last attempt
    shop.when('POST', SENT, STORED)
    await vi.advanceTimersByTimeAsync(1500)
    expect([offline.value, waiting.length, arrived()]).toEqual([null, 0, ['a', 'a', 'a', 'b']])
  })

  test('a server that hangs is told after 5 s, and what it may have taken is sent again', async () => {
    const { enqueue, deliver, offline, waiting } = await visit()
    shop.when('POST', SENT, () => new Promise(() => undefined))
    enqueue(reading('a'))
    const sent = deliver(nobody, nobody)
    await vi.advanceTimersByTimeAsync(4900)
    expect(offline.value).toBeNull()
    await vi.advanceTimersByTimeAsync(100)
    await sent
    expect([offline.value, waiting.length]).toEqual([new Date(), 1])
    shop.when('POST', SENT, STORED)
    await vi.advanceTimersByTimeAsync(1500)
    expect([offline.value, waiting.length, arrived()]).toEqual([null, 0, ['a', 'a']])
  })

  test('an answer lost on the way back: the same id is sent again', async () => {
    const { enqueue, deliver } = await visit()
    shop.when('POST', SENT, () => {
      shop.when('POST', SENT, STORED)
      throw new TypeError('the line broke')
    })
    enqueue(reading('a'))
    await deliver(nobody, nobody)
    await vi.advanceTimersByTimeAsync(1500)
    expect(arrived()).toEqual(['a', 'a'])
    const sentKeys = shop.of('POST', SENT).map((a) => a.headers.get('Idempotency-Key'))
    expect(new Set(sentKeys).size).toBe(1)
  })

  test.each([
    ['a busy server', refusal(503, 'unavailable', 'later')],
    ['a limit', refusal(429, 'too-many-requests', 'slower')],
    ['a sign-in that ended', refusal(401, 'sign-in-needed', 'Sign in.')],
  ])('%s is waited for', async (_, answer) => {
    const { enqueue, deliver, waiting } = await visit()
    shop.when('POST', SENT, answer)
    shop.when('GET', '/api/session', { body: { me: null } })
    enqueue(reading('a'))
    await deliver(nobody, nobody)
    expect(waiting.map((w) => w.refused)).toEqual([undefined])
    shop.when('POST', SENT, STORED)
    await vi.advanceTimersByTimeAsync(1500)
    expect(waiting).toEqual([])
  })

  test('what a closed browser left is delivered at the next visit', async () => {
    const before = await visit()
    shop.when('POST', SENT, 'unreachable')
    before.enqueue(reading('a'))
    const { deliver, waiting } = await visit()
    expect(waiting.map((w) => w.id)).toEqual(['a'])
    shop.when('POST', SENT, STORED)
    await deliver(nobody, nobody)
    expect(arrived()).toEqual(['a'])
  })

  test('a store that cannot be read does not keep the page from opening', async () => {
    localStorage.setItem('maple-rook.waiting', '{not json')
    expect((await visit()).waiting).toEqual([])
  })
})

describe('what the server refuses', () => {
  test('stays, marked with why, and holds nothing else up', async () => {
    const { enqueue, deliver, waiting } = await visit()
    shop.when('POST', SENT, ({ body }) =>
      (body as { client_id: string }).client_id === 'a'
        ? refusal(422, 'invalid-value', 'weight: heavy is not accepted')
        : STORED,
    )
    enqueue(reading('a', 'heavy'))
    enqueue(reading('b'))
    const refused = vi.fn()
    await deliver(nobody, refused)
    expect(refused).toHaveBeenCalledTimes(1)
    expect(waiting.map((w) => [w.id, w.refused])).toEqual([['a', 'weight: heavy is not accepted']])
    expect(kept()).toHaveLength(1)
    await deliver(nobody, refused) // it is not sent again by itself
    expect(arrived()).toEqual(['a', 'b'])
  })

  test('leaves when a person discards it', async () => {
    const { enqueue, remove, waiting } = await visit()
    enqueue(reading('a'))
    remove('unknown')
    remove('a')
    expect([waiting, kept()]).toEqual([[], []])
  })
})

test('what one person entered is not sent by another’s sign-in', async () => {
  const wil = await visit(2)
  shop.when('POST', SENT, 'unreachable')
  wil.enqueue(reading('a'))
  const ada = await visit(3)
  shop.when('POST', SENT, STORED)
  ada.enqueue(reading('b'))
  await ada.deliver(nobody, nobody)
  expect([arrived(), ada.waiting.map((w) => w.id)]).toEqual([['b'], ['a']])
  const again = await visit(2)
  await again.deliver(nobody, nobody)
  expect(arrived()).toEqual(['b', 'a'])
})

test('observations and voids go to their own addresses', async () => {
  const { enqueue, deliver } = await visit()
  shop.when('POST', '/api/bench/*', STORED)
  enqueue({ ...reading('o'), what: 'observation', body: { client_id: 'o', item: 'tang' } as never })
  enqueue({ ...reading('void:a'), what: 'void', body: { reason: 'slipped' } } as Waiting)
  await deliver(nobody, nobody)
  expect(shop.asked.map((a) => a.path)).toEqual([
    '/api/bench/sheets/1/observations',
    '/api/bench/readings/a/void',
  ])
})
