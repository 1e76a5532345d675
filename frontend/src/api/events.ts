import { onScopeDispose } from 'vue'

type Listener = (topic: string) => void

const listeners = new Set<Listener>()
let source: EventSource | undefined
/** What the server had announced when the stream began, and when it began to work on the oldest
 * answer that a page here shows. Both are unknown at first. */
let joined: string | undefined
let oldest: string | undefined

function tell(topic: string) {
  listeners.forEach((hear) => hear(topic))
}

function open() {
  oldest = undefined // of what is shown from now on
  source = new EventSource('/api/v1/events')
  source.addEventListener('joined', (event) => {
    const again = joined !== undefined // after a lost connection
    joined = (event as MessageEvent<string>).data
    if (again || (oldest !== undefined && (!sameServer(oldest, joined) || before(oldest, joined)))) tell('resync')
  })
  source.addEventListener('topic', (event) => tell((event as MessageEvent<string>).data))
  source.addEventListener('error', () => {
    // A closed stream (the session ended) does not come back by itself.
    if (source?.readyState === EventSource.CLOSED) {
      source = undefined
      if (listeners.size > 0) setTimeout(() => source ?? open(), 3000)
    }
  })
}

const before = (a: string, b: string) => Number(a.split(' ')[1]) < Number(b.split(' ')[1])
const sameServer = (a: string, b: string) => a.split(' ')[0] === b.split(' ')[0]

/** Notes how much the server had announced when it began to work on an answer. What it announced
 * between that and the beginning of the stream was not heard: then all is looked up once more. */
export function noteSeen(seen: string) {
  if (joined === undefined) {
    if (oldest === undefined || !sameServer(seen, oldest) || before(seen, oldest)) oldest = seen
  } else if (sameServer(seen, joined) && before(seen, joined)) tell('resync')
}

/** Hears the topics that begin with a prefix, with what stands after it. */
export function onTopic(prefix: string, hear: (rest: string) => void) {
  listen((topic) => {
    if (topic.startsWith(prefix)) hear(topic.slice(prefix.length))
  })
}

/** A page that shows what many people change looks again at most so often, in ms. */
const often = 1000

/** Calls reload when something changes whose topic starts with one of the prefixes: at once, and
 * once more when more came within `apart` ms. */
export function onChange(prefixes: string[], reload: (topic: string) => void, apart = often) {
  let last = -Infinity
  let waiting: ReturnType<typeof setTimeout> | undefined
  const now = (topic: string) => {
    last = performance.now()
    waiting = undefined
    reload(topic)
  }
  listen((topic) => {
    if (topic !== 'resync' && !prefixes.some((p) => topic.startsWith(p))) return
    const wait = last + apart - performance.now()
    if (wait <= 0 && !waiting) now(topic)
    else waiting ??= setTimeout(() => now(topic), wait)
  })
  onScopeDispose(() => clearTimeout(waiting))
}

function listen(hear: Listener) {
  listeners.add(hear)
  if (!source) open()
  onScopeDispose(() => {
    listeners.delete(hear)
    if (listeners.size === 0) {
      source?.close()
      source = joined = oldest = undefined
    }
  })
}
