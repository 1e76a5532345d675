import { onScopeDispose } from 'vue'

type Listener = (topic: string) => void

const listeners = new Set<Listener>()
let source: EventSource | undefined

function open() {
  source = new EventSource('/api/v1/events')
  source.addEventListener('topic', (event) => listeners.forEach((hear) => hear((event as MessageEvent<string>).data)))
  source.addEventListener('error', () => {
    // A closed stream (the session ended) does not come back by itself.
    if (source?.readyState === EventSource.CLOSED) {
      source = undefined
      if (listeners.size > 0) setTimeout(() => source ?? open(), 3000)
    }
  })
}

/** Hears the topics that begin with a prefix, with what stands after it. */
export function onTopic(prefix: string, hear: (rest: string) => void) {
  listen((topic) => {
    if (topic.startsWith(prefix)) hear(topic.slice(prefix.length))
  })
}

/** Calls reload when something changes whose topic starts with one of the prefixes. */
export function onChange(prefixes: string[], reload: () => void) {
  listen((topic) => {
    if (topic === 'resync' || prefixes.some((p) => topic.startsWith(p))) reload()
  })
}

function listen(hear: Listener) {
  listeners.add(hear)
  if (!source) open()
  onScopeDispose(() => {
    listeners.delete(hear)
    if (listeners.size === 0) {
      source?.close()
      source = undefined
    }
  })
}
