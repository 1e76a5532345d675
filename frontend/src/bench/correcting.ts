import { inject, provide, ref, type InjectionKey, type Ref } from 'vue'
import type { NewFact, Run } from '@/api/client'

/** What the page of a run gives to whatever shows its facts, so that each can be corrected where it
 * stands. */
export interface Correcting {
  run: Ref<Run | undefined>
  busy: Ref<boolean>
  /** What was wrong with what was stated last, and which fact that was to replace. */
  problems: Ref<Map<string, string>>
  about: Ref<string>
  state: (fact: Omit<NewFact, 'id'>) => void
}

const key: InjectionKey<Correcting & { at: Ref<string> }> = Symbol('correcting')

export const provideCorrecting = (with_: Correcting) => provide(key, { ...with_, at: ref('') })

/** With the fact whose form is open in a table; nothing where a run is only previewed. */
export const useCorrecting = () => inject(key, undefined)
