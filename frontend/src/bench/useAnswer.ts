import { useDebounceFn } from '@vueuse/core'
import { ref, type Ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, ofQuestion, ProblemError, sentence, type NewPlan } from '@/api/client'
import { newId } from '@/api/id'
import { latest } from '@/api/latest'

/** The answer to a question while it is typed, and the way to the bench. What is wrong
 * stands beside its field; late answers are dropped. */
export function useAnswer<Q, A>(question: () => Q | undefined, solve: (question: Q) => Promise<A>) {
  const router = useRouter()
  const answer = ref() as Ref<A | undefined>
  const problems = ref(new Map<string, string>())
  const trouble = ref('')
  const busy = ref(false)
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

  function fail(error: unknown) {
    if (error instanceof ProblemError && error.status === 422) problems.value = ofQuestion(error.fields)
    else trouble.value = sentence(error)
  }

  /** Keeps the plan and begins a run of it. */
  async function take(plan: (question: Q, id: string) => NewPlan) {
    const wanted = question()
    if (!wanted || busy.value || !answer.value || problems.value.size > 0) return
    busy.value = true
    try {
      const kept = await ask(api.POST('/plans', { body: plan(wanted, newId()) }))
      const run = await ask(api.POST('/runs', { body: { id: newId(), planId: kept.id } }))
      await router.push(`/runs/${run.summary.id}`)
    } catch (error) {
      fail(error)
    } finally {
      busy.value = false
    }
  }

  const problem = (...fields: string[]) => fields.map((f) => problems.value.get(f)).find(Boolean) ?? ''
  return { answer, problems, problem, trouble, busy, compute, computeSoon, take }
}
