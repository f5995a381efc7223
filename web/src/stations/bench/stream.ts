import { addressOf } from '@/api/base'

/** What the instruments' stream brings; `open` is told again after every pause. */
interface Listener {
  open: () => void
  error: () => void
  message: (text: string) => void
}

const NAME = 'maple-rook.instruments'
const ADDRESS = addressOf('/api/instruments/events')

type Told = { what: 'open' } | { what: 'error' } | { what: 'message'; text: string }

/**
 * Listen to the instruments while this tab is seen. A browser holds few connections to one server,
 * so that its tabs share a stream: the one that holds the lock listens and tells the others. Where
 * the browser has no locks, as over plain HTTP in a network, each tab listens by itself.
 */
export function listen(to: Listener): () => void {
  const locks = navigator.locks as LockManager | null | undefined
  const channel = locks ? new BroadcastChannel(NAME) : undefined
  let stream: EventSource | undefined
  let waiting: AbortController | undefined
  let release = (): void => undefined

  function tell(told: Told): void {
    if (told.what === 'message') to.message(told.text)
    else to[told.what]()
  }

  function begin(): void {
    const told = (what: Told) => {
      tell(what)
      channel?.postMessage(what)
    }
    stream = new EventSource(ADDRESS)
    stream.onopen = () => told({ what: 'open' })
    stream.onerror = () => told({ what: 'error' })
    stream.onmessage = (event) => told({ what: 'message', text: event.data as string })
  }

  function start(): void {
    if (stream || waiting) return
    if (!locks) return begin()
    to.open() // whoever listens already will not say again how things stand
    waiting = new AbortController()
    const held = () =>
      new Promise<void>((resolve) => {
        release = resolve
        begin()
      })
    locks.request(NAME, { signal: waiting.signal }, held).catch(() => undefined)
  }

  function stop(): void {
    waiting?.abort()
    waiting = undefined
    stream?.close()
    stream = undefined
    release()
  }

  const seen = () => (document.hidden ? stop() : start())
  if (channel)
    channel.onmessage = (event: MessageEvent<Told>) => !document.hidden && tell(event.data)
  document.addEventListener('visibilitychange', seen)
  seen()
  return () => {
    document.removeEventListener('visibilitychange', seen)
    stop()
    channel?.close()
  }
}
