import { computed, ref, watch } from 'vue'
import { api, ask, sentence, type EquationAnswer } from '@/api/client'
import { latest } from '@/api/latest'

/** An equation of one's own, balanced as it is typed; what is wrong with it; and its species as
 * choices. */
export function useBalanced(equation: () => string) {
  const balanced = ref<EquationAnswer>()
  const wrong = ref('')
  const asked = latest()
  watch(
    equation,
    async (text) => {
      const current = asked()
      balanced.value = undefined
      wrong.value = ''
      if (!text.trim()) return
      try {
        const answer = await ask(
          api.POST('/compute/equation', { body: { equation: text.slice(0, 600) }, signal: current.signal }),
        )
        if (current()) balanced.value = answer
      } catch (error) {
        if (current()) wrong.value = sentence(error)
      }
    },
    { immediate: true },
  )
  const species = computed((): [string, string][] =>
    [...(balanced.value?.left ?? []), ...(balanced.value?.right ?? [])].map((t) => [t.formula, t.formula]),
  )
  return { balanced, wrong, species }
}
