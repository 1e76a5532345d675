import { watch } from 'vue'
import { api, ask, type NewPlan, type Run } from '@/api/client'
import { newId } from '@/api/id'
import { useAnswer } from './useAnswer'

/** The run that a question would begin, as its drawing shows it before the first reading, while it is
 * typed. */
export function usePreview(kind: NewPlan['kind'], question: () => object | undefined) {
  const plan = (asked: object, id: string) => ({ id, kind, question: asked }) as NewPlan
  const answered = useAnswer<object, Run>(question, (asked, signal) =>
    ask(api.POST('/plans/preview', { body: plan(asked, newId()), signal })),
  )
  watch(answered.problems, (found) => {
    if (found.size > 0) answered.answer.value = undefined
  })
  return { ...answered, toTheBench: () => answered.take(plan) }
}
