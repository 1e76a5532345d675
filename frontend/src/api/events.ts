import { onScopeDispose } from 'vue'

/** Who listens: the beginnings of topics, and what to do. */
interface Listener {
  prefixes: string[]
  hear: (topic: string) => void
}

const listeners = new Set<Listener>()
let source: EventSource | undefined
/** What the stream brings: the server sends nobody what no page of theirs shows. */
let brings: string[] = []
/** The last announcement that was heard: another stream goes on from there. */
let heard: string | undefined
/** When the server began to work on the oldest answer that a page shows, until the first stream is open. */
let oldest: string | undefined

const wanted = () => [...new Set([...listeners].flatMap((l) => l.prefixes))].sort()

function tell(topic: string) {
  for (const l of listeners) if (topic === 'resync' || l.prefixes.some((p) => topic.startsWith(p))) l.hear(topic)
}

function open() {
  source?.close()
  brings = wanted()
  const query = new URLSearchParams({ topics: brings.join(','), ...(heard ? { since: heard } : {}) })
  const stream = (source = new EventSource(`/api/v1/events?${query}`))
  stream.addEventListener('joined', (event) => {
    const joined = (event as MessageEvent<string>).data
    const first = heard === undefined
    heard = joined
    if (first && oldest !== undefined && (!sameServer(oldest, joined) || before(oldest, joined))) tell('resync')
  })
  stream.addEventListener('topic', (event) => {
    const { data, lastEventId } = event as MessageEvent<string>
    heard = lastEventId
    tell(data)
  })
  stream.addEventListener('error', () => {
    // A closed stream (the session ended) does not come back by itself.
    if (stream.readyState === EventSource.CLOSED && stream === source) {
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
  if (heard === undefined && (oldest === undefined || !sameServer(seen, oldest) || before(seen, oldest))) oldest = seen
}

/** Hears the topics that begin with a prefix, with what stands after it. */
export function onTopic(prefix: string, hear: (rest: string) => void) {
  listen([prefix], (topic) => {
    if (topic !== 'resync') hear(topic.slice(prefix.length))
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
  listen(prefixes, (topic) => {
    const wait = last + apart - performance.now()
    if (wait <= 0 && !waiting) now(topic)
    else waiting ??= setTimeout(() => now(topic), wait)
  })
  onScopeDispose(() => clearTimeout(waiting))
}

let changing = false

/** Opens the stream, or another one when it does not bring what a page wants; pages come and go in
 * one moment. */
function follow() {
  if (changing) return
  changing = true
  queueMicrotask(() => {
    changing = false
    if (listeners.size === 0) {
      source?.close()
      source = heard = oldest = undefined
    } else if (!source || !wanted().every((p) => brings.includes(p))) open()
  })
}

function listen(prefixes: string[], hear: (topic: string) => void) {
  const listener = { prefixes, hear }
  if (!source && listeners.size === 0) oldest = undefined // of what is shown from now on
  listeners.add(listener)
  follow()
  onScopeDispose(() => {
    listeners.delete(listener)
    follow()
  })
}
