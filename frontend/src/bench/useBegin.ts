import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, ofQuestion, ProblemError, sentence, type NewPlan } from '@/api/client'
import { newId } from '@/api/id'
import { useTask } from './task'

/** The way to the bench: a plan is kept, and a run of it begun. What is wrong stands beside
 * its field. */
export function useBegin() {
  const router = useRouter()
  const task = useTask()
  const problems = ref(new Map<string, string>())
  const trouble = ref('')
  const busy = ref(false)
  const problem = (...fields: string[]) => fields.map((f) => problems.value.get(f)).find(Boolean) ?? ''

  function fail(error: unknown) {
    if (error instanceof ProblemError && error.status === 422 && error.fields.size > 0)
      problems.value = ofQuestion(error.fields)
    else trouble.value = sentence(error)
  }

  /** Says whether it began. */
  async function begin(plan: NewPlan): Promise<boolean> {
    if (busy.value) return false
    busy.value = true
    problems.value = new Map()
    trouble.value = ''
    try {
      const kept = await ask(api.POST('/plans', { body: plan }))
      const run = await ask(api.POST('/runs', { body: { id: newId(), planId: kept.id, ...task.of(plan.kind) } }))
      task.leave()
      await router.push(`/runs/${run.summary.id}`)
      return true
    } catch (error) {
      fail(error)
      return false
    } finally {
      busy.value = false
    }
  }

  return { problems, problem, trouble, busy, fail, begin }
}
