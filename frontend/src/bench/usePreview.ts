import { watch } from 'vue'
import { api, ask, type NewPlan, type Run } from '@/api/client'
import { newId } from '@/api/id'
import { useAnswer } from './useAnswer'

/** The run that a question would begin, as its drawing shows it before the first reading, while it is
 * typed. One that is not ready is left in peace; taken to the bench, it says what is missing. */
export function usePreview(kind: NewPlan['kind'], question: () => object, ready: () => boolean) {
  const plan = (asked: object, id: string) => ({ id, kind, question: asked }) as NewPlan
  const answered = useAnswer<object, Run>(
    () => (ready() ? question() : undefined),
    (asked, signal) => ask(api.POST('/plans/preview', { body: plan(asked, newId()), signal })),
  )
  watch([answered.problems, ready], ([found, is]) => {
    if (found.size > 0 || !is) answered.answer.value = undefined
  })
  const toTheBench = () => (ready() ? answered.take(plan) : answered.begin(plan(question(), newId())))
  return { ...answered, toTheBench }
}
