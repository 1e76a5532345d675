import { ref, watch } from 'vue'
import type { NewFact, Verdict } from '@/api/client'
import { useLive } from './live'

type Taken = Pick<NewFact, 'quantity' | 'beside' | 'spread' | 'instrument'>

/** Taking what a connected instrument shows: at once when it stands; before that it asks
 * first, and keeps how far it still moved. */
export function useTaking(take: (taken: Taken) => void, wait: () => void) {
  const live = useLive()
  const asking = ref<{ verdict: Verdict; taken: Taken }>()

  function offer(taken: Taken) {
    const now = live.reading
    if (now?.still) take(taken)
    else if (now?.verdict)
      asking.value = {
        verdict: now.verdict,
        taken: { ...taken, spread: now.spread && { value: now.spread.value, unit: now.spread.unit } },
      }
  }

  function choose(choice: string) {
    const taken = asking.value?.taken
    asking.value = undefined
    if (choice === 'take-moving' && taken) take(taken)
    else wait()
  }

  watch(
    () => live.reading?.still,
    (still) => {
      if (still && asking.value) choose('wait-settled') // it stands by now: nothing is left to ask
    },
  )
  return { asking, offer, choose }
}
