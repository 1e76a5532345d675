import { useDebounceFn } from '@vueuse/core'
import { ref, type Ref } from 'vue'
import type { NewPlan } from '@/api/client'
import { newId } from '@/api/id'
import { latest } from '@/api/latest'
import { useBegin } from './useBegin'

/** The answer to a question while it is typed, and the way to the bench. What is wrong
 * stands beside its field; late answers are dropped. */
export function useAnswer<Q, A>(question: () => Q | undefined, solve: (question: Q) => Promise<A>) {
  const answer = ref() as Ref<A | undefined>
  const { problems, problem, trouble, busy, fail, begin } = useBegin()
  const asked = latest()

  async function compute() {
    const current = asked()
    const wanted = question()
    if (!wanted) return
    try {
      const got = await solve(wanted)
      if (!current()) return
      answer.value = got
      problems.value = new Map()
      trouble.value = ''
    } catch (error) {
      if (current()) fail(error)
    }
  }
  const computeSoon = useDebounceFn(compute, 50)

  /** Keeps the plan and begins a run of it. */
  async function take(plan: (question: Q, id: string) => NewPlan) {
    const wanted = question()
    if (!wanted || !answer.value || problems.value.size > 0) return
    await begin(plan(wanted, newId()))
  }

  return { answer, problems, problem, trouble, busy, compute, computeSoon, take }
}
