import { beforeEach, vi } from 'vitest'
import { shop } from './shop'

// The client of the API keeps the fetch it finds when it is loaded.
globalThis.fetch = (input, init) => shop.answer(new Request(input, init))

/** The stream of a Bench, on which a test speaks for the server. */
export class Stream {
  static last: Stream | undefined
  onopen: (() => void) | null = null
  onerror: (() => void) | null = null
  onmessage: ((message: { data: string }) => void) | null = null

  constructor(readonly address: string) {
    Stream.last = this
  }

  tell(event: object): void {
    this.onmessage?.({ data: JSON.stringify(event) })
  }

  close(): void {
    if (Stream.last === this) Stream.last = undefined
  }
}

vi.stubGlobal('EventSource', Stream)

beforeEach(() => {
  localStorage.clear()
  shop.reset()
})
