import { openDB, type DBSchema } from 'idb'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, ProblemError, sentence, Unreachable, type NewFact, type Run } from './client'
import { now } from './clock'
import { useSession } from './session'

export interface Letter {
  /** The place in the queue. */
  seq: number
  /** The account of who stated the fact: it goes on record under no other. */
  by: string
  runId: string
  fact: NewFact
  /** The ID of the fact, not on record yet, that it was stated after: refused with that one. */
  after?: string
  /** Why it could not be sent so far. */
  trouble?: string
}

/** A fact in a few words. */
export function wordsOf(fact: NewFact): string {
  const q = fact.quantity
  const number = q && String(q.text ?? q.value)
  const what = q
    ? /\d$/.test(number!)
      ? `${number} ${q.unit ?? ''}`
      : number
    : (fact.choice ?? fact.count ?? fact.date ?? fact.text)
  return fact.kind === 'note' ? `${what}` : `${fact.kind} ${what ?? ''}`.trim()
}

/** Which tab sends, and until when it holds that turn. */
interface Sender extends DBSchema {
  sender: { key: string; value: { tab: string; until: number } }
}

/** What one tab tells the others of a letter that was answered. */
interface Answered {
  id: string
  refused?: { status: number; detail: string; fields: [string, string][] }
}

/** Answers that will not change however often the fact is sent. */
const refusals = [400, 403, 404, 409, 413, 422]

const answerWithin = 20_000
/** How long a tab that sends is given the turn, and how often it says that it still does. */
const leaseFor = 10_000
const renewEvery = 3000
/** How long the browser's own database may take to say whose turn it is. */
const patience = 3000
const pauses = [2000, 4000, 8000, 15_000]
const name = 'vialbench-outbox'
export const noConnection = 'No connection.'

/** Tells this tab from others, also after it was reloaded. */
function nameOfTab(): string {
  const [how] = performance.getEntriesByType('navigation') as PerformanceNavigationTiming[]
  const kept = how?.type === 'reload' ? sessionStorage.getItem(name) : null
  const tab = kept ?? crypto.getRandomValues(new Uint32Array(2)).join('-')
  sessionStorage.setItem(name, tab)
  return tab
}

/** Letters lie in the local storage, each under a key of its own: that is written before
 * the next line runs, and no tab writes over what another one keeps. */
const keyOf = (letter: Letter) => `${name} ${letter.fact.id}`

const keep = (letter: Letter) => localStorage.setItem(keyOf(letter), JSON.stringify(letter))

/** What is kept under a key; nothing of what cannot be read, which stays where it is. */
function parsed<T>(text: string | null): T[] {
  try {
    return [JSON.parse(text ?? '') as T]
  } catch {
    return []
  }
}

function kept(): Letter[] {
  const list = Object.keys(localStorage)
    .filter((key) => key.startsWith(`${name} `))
    .flatMap((key) => parsed<Letter>(localStorage.getItem(key)))
  return list.sort((a, b) => a.seq - b.seq)
}

/** An earlier version kept all letters under one key. */
function takeOver() {
  const old = parsed<Letter[]>(localStorage.getItem(name)).flat()
  old.forEach((letter, i) => keep({ ...letter, seq: i - old.length }))
  localStorage.removeItem(name)
}

/** Facts on their way to the server. Each is kept on this device until the server says
 * that it is on record, or refuses it by a rule; when nobody can tell, it is sent again
 * under the same ID, and kept once. All tabs share one queue, and one of them sends, in
 * order for each run. */
export const useOutbox = defineStore('outbox', () => {
  takeOver()
  const letters = shallowRef(kept())
  const refused = ref('')
  const session = useSession()
  const tab = nameOfTab()
  const waiting = new Map<string, { by: string; resolve: (run: Run) => void; reject: (error: unknown) => void }>()
  const channel = new BroadcastChannel(name)
  /** Letters that an earlier page of this tab left behind. */
  const left = new Set<string>()
  let pumping = false
  let again = false
  let wake = () => {}

  // A browser that keeps no database (a private window, a full disk) sends from every tab:
  // the server keeps each fact once all the same.
  const opened = (async () =>
    openDB<Sender>('vialbench', 1, { upgrade: (db) => void db.createObjectStore('sender') }))().catch(() => undefined)

  const look = () => (letters.value = kept())

  window.addEventListener('storage', look) // another tab wrote
  channel.onmessage = ({ data: { id, refused: r } }: MessageEvent<Answered>) => {
    look()
    settle(id, r ? new ProblemError(r.status, r.detail, new Map(r.fields)) : new SentElsewhere())
  }

  /** Tells whoever waits for a letter in this tab what became of it. */
  function settle(id: string, answer: Run | Error) {
    const waiter = waiting.get(id)
    waiting.delete(id)
    if (!(answer instanceof Error)) waiter?.resolve(answer)
    else if (waiter) waiter.reject(answer)
    else if (left.has(id) && answer instanceof ProblemError)
      refused.value = `A reading kept from before was refused: ${sentence(answer)}`
  }

  /** Makes this tab the one that sends, or says that another one is. A database that was lost, as on a
   * tablet that slept, holds nothing up. */
  const mayISend = () =>
    Promise.race([take().catch(() => true), new Promise<boolean>((go) => setTimeout(() => go(true), patience))])

  async function take(): Promise<boolean> {
    const db = await opened
    if (!db) return true
    const tx = db.transaction('sender', 'readwrite')
    const sender = await tx.store.get('sender')
    const mine = !sender || sender.tab === tab || sender.until < Date.now() || sender.until > Date.now() + 2 * leaseFor
    if (mine) await tx.store.put({ tab, until: Date.now() + leaseFor }, 'sender')
    await tx.done
    return mine
  }

  async function giveUp() {
    const db = await opened
    if (!db) return
    const tx = db.transaction('sender', 'readwrite')
    if ((await tx.store.get('sender'))?.tab === tab) await tx.store.delete('sender')
    await tx.done
  }

  /** Sends all that can be sent, until nothing of whoever is signed in is left. */
  async function pump() {
    again = true
    wake()
    if (pumping) return
    pumping = true
    let sending = false
    const renew = setInterval(() => sending && void mayISend(), renewEvery)
    try {
      for (let tries = 0; session.state === 'in'; tries++) {
        again = false
        sending = await mayISend()
        const wait = sending ? await pass(tries) : mine().length > 0 ? pauses[0]! : 0
        if (again) continue
        if (wait === 0) return
        await new Promise<void>((go) => {
          wake = go
          setTimeout(go, wait)
        })
      }
    } finally {
      clearInterval(renew)
      pumping = false
      void giveUp().catch(() => undefined) // then the turn runs out by itself
    }
  }

  function mine() {
    look()
    return letters.value.filter((l) => l.by === session.account?.id)
  }

  /** Goes once through the queue; says how long to wait before the next time, in ms. */
  async function pass(tries: number): Promise<number> {
    const held = new Set<string>() // runs whose order would be lost
    let wait = 0
    for (let next = mine()[0]; next; next = mine().find((l) => !held.has(l.runId))) {
      const trouble = await deliver(next)
      if (session.state !== 'in') return 0
      if (!trouble) continue
      held.add(next.runId)
      wait = trouble.after ?? pauses[Math.min(tries, pauses.length - 1)]!
      if (trouble.everywhere) break
    }
    return wait
  }

  interface Trouble {
    after?: number
    /** It is not the fault of this letter: the others would fare no better. */
    everywhere: boolean
  }

  /** Sends one letter. Nothing is returned when it was answered one way or the other. */
  async function deliver(letter: Letter): Promise<Trouble | undefined> {
    try {
      const run = await ask(
        api.POST('/runs/{id}/facts', {
          // Whoever stated it has the facts up to there, see `send`.
          params: { path: { id: letter.runId }, query: { since: Math.max(0, letter.fact.seen ?? 0) } },
          body: letter.fact,
          signal: AbortSignal.timeout(answerWithin),
        }),
      )
      answered(letter, run)
    } catch (error) {
      if (error instanceof ProblemError && refusals.includes(error.status)) {
        answered(letter, error)
        return undefined
      }
      if (error instanceof ProblemError && error.status === 401) return { everywhere: true } // until somebody signs in
      const unreachable = error instanceof Unreachable
      if (localStorage.getItem(keyOf(letter)))
        keep({ ...letter, trouble: unreachable ? noConnection : sentence(error) })
      look()
      const after = unreachable || error instanceof ProblemError ? error.retryAfter : undefined
      return { after, everywhere: unreachable || (error instanceof ProblemError && error.status === 429) }
    }
    return undefined
  }

  function answered(letter: Letter, answer: Run | ProblemError) {
    localStorage.removeItem(keyOf(letter))
    look()
    const { id } = letter.fact
    const refused =
      answer instanceof ProblemError
        ? { status: answer.status, detail: answer.message, fields: [...answer.fields] }
        : undefined
    channel.postMessage({ id, refused } satisfies Answered)
    settle(id, answer)
    if (!refused) return
    for (const next of letters.value.filter((l) => l.after === id))
      answered(
        next,
        new ProblemError(409, 'It came after a reading that was not taken: state it again if it still applies.'),
      )
  }

  /** Sends a fact; resolves with the run once it is on record, without the facts before `since`. */
  async function send(runId: string, fact: NewFact, after?: string): Promise<Run> {
    const by = session.account?.id ?? ''
    const seq = Math.max(0, ...kept().map((l) => l.seq)) + 1
    keep({ seq, by, runId, fact: { ...fact, at: now().toISOString() }, after })
    look()
    const answer = new Promise<Run>((resolve, reject) => waiting.set(fact.id, { by, resolve, reject }))
    void pump()
    try {
      return await answer
    } catch (error) {
      if (!(error instanceof SentElsewhere)) throw error
      return ask(api.GET('/runs/{id}', { params: { path: { id: runId } } }))
    }
  }

  /** Sends what was left behind by whoever is signed in now, and tells whoever waits that
   * a reading of somebody else is kept for them. */
  async function resume() {
    for (const [id, waiter] of waiting)
      if (waiter.by !== session.account?.id) {
        waiting.delete(id)
        waiter.reject(
          new ProblemError(
            409,
            'This reading was typed by somebody else. It is kept, and goes on record when they sign in again.',
          ),
        )
      }
    for (const letter of mine()) if (!waiting.has(letter.fact.id)) left.add(letter.fact.id)
    await pump()
  }

  /** Gives a letter up: it never goes on record. */
  function discard(letter: Letter) {
    answered(letter, new ProblemError(409, 'This reading was thrown away before it went on record.'))
  }

  window.addEventListener('online', () => void pump())

  /** What waits, once it is known that it has to. */
  const ofMine = computed(() => {
    const all = letters.value.filter((l) => l.by === session.account?.id)
    return all.some((l) => l.trouble) ? all : []
  })
  /** What of a run is on its way, or waits. */
  const queued = (runId: string) => letters.value.filter((l) => l.by === session.account?.id && l.runId === runId)
  const ofOthers = computed(() => letters.value.filter((l) => l.by !== session.account?.id))

  return { ofMine, ofOthers, queued, refused, send, resume, discard }
})

/** Another tab sent it. */
class SentElsewhere extends Error {}
