import { computed, ref, watch, type Ref } from 'vue'
import { api, ask, type Step } from '@/api/client'
import { useBench } from './bench'
import type { Connected } from './live'

/** The instrument that a step reads, when it is connected: the balance on the bench, or any meter or photometer, since a
 * session has several of them. */
export function useConnected(step: Ref<Step | undefined>) {
  const bench = useBench()
  /** The connected meters and photometers, once a step asks for one. */
  const others = ref<Connected[]>([])

  async function lookFor(of: 'meters' | 'photometers') {
    if (others.value.some((o) => o.of === of)) return
    const found: Connected[] =
      of === 'meters'
        ? (await ask(api.GET('/meters'))).flatMap((m) => (m.address ? [{ id: m.id, name: m.meter.name, of }] : []))
        : (await ask(api.GET('/photometers'))).flatMap((p) =>
            p.address ? [{ id: p.id, name: p.photometer.name, of }] : [],
          )
    others.value = [...others.value, ...found]
  }
  const onBench = computed(() => {
    const balance = bench.bench?.balance
    return balance && balance.balance.name === step.value?.instrument ? balance : undefined
  })
  watch(
    [
      () => step.value?.instrument,
      () => bench.bench !== undefined,
      () => step.value?.wavelength !== undefined,
    ] as const,
    ([name, known, light]) => {
      if (name && known && !onBench.value) lookFor(light ? 'photometers' : 'meters').catch(() => undefined) // typing is always possible
    },
    { immediate: true },
  )
  return computed((): Connected | undefined => {
    const { instrument: name, wavelength } = step.value ?? {}
    const balance = onBench.value
    if (balance && !wavelength) return balance.address ? { id: balance.id, name: name!, of: 'balances' } : undefined
    return others.value.find((o) => o.name === name && (o.of === 'photometers') === (wavelength !== undefined))
  })
}
