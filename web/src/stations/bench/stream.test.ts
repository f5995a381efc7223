import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { flushPromises } from '@vue/test-utils'
import { Stream } from '@/testing/setup'
import { listen } from './stream'

/** Locks of a browser: one holds, the next waits its turn or gives up. */
class Locks {
  private held: Promise<unknown> = Promise.resolve()

  request(_: string, { signal }: { signal: AbortSignal }, hold: () => Promise<void>) {
    const turn = this.held.then(() => (signal.aborted ? undefined : hold()))
    this.held = turn
    return turn
  }
}

/** A channel that reaches the other tabs at once. */
class Channel {
  static all: Channel[] = []
  onmessage: ((event: { data: unknown }) => void) | null = null

  constructor() {
    Channel.all.push(this)
  }

  postMessage(data: unknown): void {
    for (const other of Channel.all) if (other !== this) other.onmessage?.({ data })
  }

  close(): void {
    Channel.all = Channel.all.filter((c) => c !== this)
  }
}

let hidden = false
function tab() {
  const heard: string[] = []
  const leave = listen({
    open: () => undefined,
    error: () => heard.push('gone'),
    message: (text) => heard.push(text),
  })
  return { heard, leave }
}

beforeEach(() => {
  hidden = false
  Stream.last = undefined
  vi.spyOn(document, 'hidden', 'get').mockImplementation(() => hidden)
  vi.stubGlobal('BroadcastChannel', Channel)
  Object.defineProperty(navigator, 'locks', { value: new Locks(), configurable: true })
})
afterEach(() => {
  Reflect.deleteProperty(navigator, 'locks')
  Channel.all = []
})

test('tabs share one stream; when its tab goes, another takes it up', async () => {
  const [first, second] = [tab(), tab()]
  await flushPromises()
  const stream = Stream.last!
  stream.tell({ n: 1 })
  stream.onerror?.()
  const told = ['{"n":1}', 'gone']
  expect([first.heard, second.heard]).toEqual([told, told])
  first.leave()
  await flushPromises()
  expect(Stream.last).not.toBe(stream)
  Stream.last!.tell({ n: 2 })
  expect([first.heard, second.heard]).toEqual([told, [...told, '{"n":2}']])
  second.leave()
  await flushPromises()
  expect(Stream.last).toBeUndefined()
})

test.each(['shared', 'of its own'])(
  'a stream %s is closed while the tab is hidden',
  async (how) => {
    if (how === 'of its own') Reflect.deleteProperty(navigator, 'locks')
    const { heard, leave } = tab()
    await flushPromises()
    hidden = true
    document.dispatchEvent(new Event('visibilitychange'))
    await flushPromises()
    expect(Stream.last).toBeUndefined()
    hidden = false
    document.dispatchEvent(new Event('visibilitychange'))
    await flushPromises()
    Stream.last!.tell({ n: 3 })
    expect(heard).toEqual(['{"n":3}'])
    leave()
  },
)
