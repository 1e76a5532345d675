import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, ProblemError, Unreachable, type NewFact, type Run } from './client'
import { useSession } from './session'

interface Letter {
  /** The account of who stated the fact: it goes on record under no other. */
  by: string
  runId: string
  fact: NewFact
}

const storageKey = 'vialbench-outbox'
const retryAfter = 2000

function kept(): Letter[] {
  try {
    return JSON.parse(localStorage.getItem(storageKey) ?? '[]') as Letter[]
  } catch {
    return []
  }
}

/** Facts on their way to the server. A fact that cannot be sent waits here, also
 * over a reload, and goes out when the network or the session is back. */
export const useOutbox = defineStore('outbox', () => {
  const letters = ref<Letter[]>(kept())
  const stuck = ref(false)
  const refused = ref('')
  const session = useSession()

  const keep = () => localStorage.setItem(storageKey, JSON.stringify(letters.value))

  function drop(letter: Letter) {
    letters.value = letters.value.filter((l) => l.fact.id !== letter.fact.id)
    keep()
  }

  async function deliver(letter: Letter): Promise<Run> {
    for (;;) {
      try {
        const run = await ask(
          api.POST('/runs/{id}/facts', { params: { path: { id: letter.runId } }, body: letter.fact }),
        )
        stuck.value = false
        drop(letter)
        return run
      } catch (error) {
        if (error instanceof Unreachable) {
          stuck.value = true
          await new Promise((go) => setTimeout(go, retryAfter))
        } else if (error instanceof ProblemError && error.status === 401) {
          await session.signedIn()
          if (session.account?.id !== letter.by)
            throw new ProblemError(
              409,
              'This reading was typed by somebody else. It is kept, and goes on record when they sign in again.',
            )
        } else {
          stuck.value = false
          drop(letter)
          throw error
        }
      }
    }
  }

  /** Sends a fact; resolves with the run once it is on record. */
  function send(runId: string, fact: NewFact): Promise<Run> {
    const letter = { by: session.account?.id ?? '', runId, fact: { ...fact, at: new Date().toISOString() } }
    letters.value = [...letters.value, letter]
    keep()
    return deliver(letter)
  }

  /** Sends what an earlier page left behind by whoever is signed in now. */
  function resume() {
    for (const letter of letters.value.filter((l) => l.by === session.account?.id))
      deliver(letter).catch(
        (error: unknown) => (refused.value = `A reading kept from before was refused: ${String(error)}`),
      )
  }

  return { letters, stuck, refused, send, resume }
})
