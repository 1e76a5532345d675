import { computed, shallowReactive, watch } from 'vue'
import type { Plan } from '@/api/client'
import { kindOf, type RunParts } from './kinds'

const loaded = shallowReactive(new Map<Plan['kind'], RunParts>())

/** How a run of a kind is shown; nothing until that is loaded, or where it cannot be: the sheet goes on
 * without it. */
export function useParts(kind: () => Plan['kind'] | undefined) {
  async function load(name: Plan['kind'] | undefined) {
    if (!name || loaded.has(name)) return
    const run = await kindOf(name)
      .run()
      .catch(() => undefined)
    if (run) loaded.set(name, run.parts)
  }
  watch(kind, load, { immediate: true })
  return computed(() => {
    const name = kind()
    return name && loaded.get(name)
  })
}
