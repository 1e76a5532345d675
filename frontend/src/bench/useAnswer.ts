import { nextTick, onScopeDispose, shallowRef } from 'vue'
import { pause, type NewPlan } from '@/api/client'
import { newId } from '@/api/id'
import { latest } from '@/api/latest'
import { useBegin } from './useBegin'

/** The answer to a question while it is typed, and the way to the bench. What is wrong
 * stands beside its field; a question is withdrawn when the next one is asked, and asked again when
 * the server was busy or out of reach. */
export function useAnswer<Q, A>(
  question: () => Q | undefined,
  solve: (question: Q, signal: AbortSignal) => Promise<A>,
) {
  const answer = shallowRef<A>()
  const { problems, problem, trouble, busy, fail, begin } = useBegin()
  const asked = latest()

  async function compute() {
    const current = asked()
    const wanted = question()
    if (!wanted) return
    try {
      const got = await solve(wanted, current.signal)
      if (!current()) return
      answer.value = got
      problems.value = new Map()
      trouble.value = ''
    } catch (error) {
      if (!current()) return
      fail(error)
      const wait = pause(error)
      if (wait !== undefined) setTimeout(() => current() && void compute(), wait)
    }
  }
  onScopeDispose(asked)
  let due = false
  /** Asks at once, and once for all that changed in one moment. */
  function computeSoon() {
    if (due) return
    due = true
    void nextTick(() => {
      due = false
      void compute()
    })
  }

  /** Keeps the plan and begins a run of it; says whether it did. */
  async function take(plan: (question: Q, id: string) => NewPlan): Promise<boolean> {
    const wanted = question()
    if (!wanted) return false
    if (!answer.value) await compute() // Enter came before the answer
    if (!answer.value || problems.value.size > 0) return false
    return begin(plan(wanted, newId()))
  }

  return { answer, problems, problem, trouble, busy, compute, computeSoon, take, begin }
}
