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

/** A question as it is typed. What belongs to the lab (glass, bottles, ways to work) is proposed again
 * next time; what belongs to a sample outlives a reload, and is forgotten once a run has begun. */
export function useTyped<T extends object>(name: string, fresh: () => T, ofSample: readonly (keyof T & string)[]) {
  const [lab, sample] = [`vialbench-${name}`, `vialbench-typed ${name}`]
  const isOfSample = ([key]: [string, unknown]) => (ofSample as readonly string[]).includes(key)
  const entries = Object.entries({ ...fresh(), ...kept(localStorage, lab), ...kept(sessionStorage, sample) })
  const own = Object.entries(kept(sessionStorage, sample))
  const typed = ref({
    ...fresh(),
    ...Object.fromEntries([...entries.filter((e) => !isOfSample(e)), ...own.filter(isOfSample)]),
  }) as Ref<T>
  watch(
    typed,
    (now) => {
      const all = Object.entries(now) as [string, unknown][]
      localStorage.setItem(lab, JSON.stringify(Object.fromEntries(all.filter((e) => !isOfSample(e)))))
      sessionStorage.setItem(sample, JSON.stringify(Object.fromEntries(all.filter(isOfSample))))
    },
    { deep: true },
  )

  function forget() {
    const empty = fresh()
    for (const key of ofSample) typed.value[key] = empty[key]
    sessionStorage.removeItem(sample)
  }

  return { typed, forget }
}
