import { computed, ref, type Ref } from 'vue'
import { api, ask, type LabPhotometer } from '@/api/client'
import { useLook } from './useLook'

/** Chosen where the lab has photometers and none of them is used. */
const notOnRecord = '-'

/** The photometers of the lab, one of which a question names; the first one until somebody says otherwise. */
export function usePhotometers(typed: Ref<{ photometer: string }>) {
  const list = ref<LabPhotometer[]>([])
  const { trouble } = useLook(async () => {
    list.value = await ask(api.GET('/photometers'))
    const { photometer } = typed.value
    if (photometer !== notOnRecord && !list.value.some((p) => p.id === photometer))
      typed.value.photometer = list.value[0]?.id ?? ''
  }, ['setup'])
  const photometer = computed(() => list.value.find((p) => p.id === typed.value.photometer))
  const options = computed(() => [
    ...list.value.map((p) => [p.id, p.photometer.name] as const),
    [notOnRecord, 'none on record'] as const,
  ])
  /** The part of a question that names it. */
  const named = () => (photometer.value ? { photometer: photometer.value.id } : {})
  return { list, photometer, options, named, trouble }
}
