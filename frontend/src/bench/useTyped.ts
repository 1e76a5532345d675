import { ref, watch, type Ref } from 'vue'

/** What is kept under a key; nothing of what cannot be read. */
function kept(storage: Storage, key: string): object {
  try {
    const found: unknown = JSON.parse(storage.getItem(key) ?? '{}')
    return found !== null && typeof found === 'object' ? found : {}
  } catch {
    return {}
  }
}

/** Forgets what was typed of samples on this device: at the end of somebody's work. */
export function forgetSamples() {
  for (const key of Object.keys(sessionStorage)) if (key.startsWith('vialbench-typed ')) sessionStorage.removeItem(key)
}

const handed = (name: string) => `vialbench-typed for ${name}`

/** Hands over what a question begins with when its page is opened next. */
export const handOver = (name: string, fields: object) => sessionStorage.setItem(handed(name), JSON.stringify(fields))

/** A question as it is typed. What belongs to the lab (glass, bottles, ways to work) is proposed again
 * next time; what belongs to a sample outlives a reload, and is forgotten once a run has begun. */
export function useTyped<T extends object>(name: string, fresh: () => T, ofSample: readonly (keyof T & string)[]) {
  const [lab, sample] = [`vialbench-${name}`, `vialbench-typed ${name}`]
  const isOfSample = (key: string) => (ofSample as readonly string[]).includes(key)
  /** The fields of one of both kinds, of those that the question has today. */
  const fields = (of: object, wanted: boolean) =>
    Object.fromEntries(Object.entries(of).filter(([key]) => key in fresh() && isOfSample(key) === wanted))
  const typed = ref({
    ...fresh(),
    ...fields(kept(localStorage, lab), false),
    ...fields(kept(sessionStorage, sample), true),
  }) as Ref<T>
  watch(
    typed,
    (now) => {
      localStorage.setItem(lab, JSON.stringify(fields(now, false)))
      sessionStorage.setItem(sample, JSON.stringify(fields(now, true)))
    },
    { deep: true },
  )

  function forget() {
    const empty = fresh()
    for (const key of ofSample) typed.value[key] = empty[key]
    sessionStorage.removeItem(sample)
  }

  /** Takes what was handed over, once. */
  function fillIn() {
    Object.assign(
      typed.value,
      fields(kept(sessionStorage, handed(name)), true),
      fields(kept(sessionStorage, handed(name)), false),
    )
    sessionStorage.removeItem(handed(name))
  }

  return { typed, forget, fillIn }
}
