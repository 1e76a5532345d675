import { computed, watch, type Ref } from 'vue'
import type { Bottle, LabSubstance, Titration } from '@/api/client'
import { isBack, type Typed } from './question'

type Choice = [value: string, words: string]

/** What can be in the burette and in the flask. The reaction follows from the two bottles, and the bottles
 * from the reaction: whichever was chosen last stays. */
export function useReaction(
  typed: Ref<Typed>,
  list: Ref<Titration[]>,
  bottles: Ref<Bottle[] | undefined>,
  substances: Ref<LabSubstance[]>,
) {
  const chosen = computed(() => list.value.find((t) => t.key === typed.value.reaction))
  const back = computed(() => isBack(typed.value))

  const named = (b: Bottle): Choice => [b.id, `bottle ${b.number}: ${b.title}${b.exact ? '' : ', approximate'}`]
  const there = computed(() => (bottles.value ?? []).filter((b) => b.formula.length > 0))
  const among = (ids: readonly string[]) => there.value.filter((b) => ids.includes(b.id)).map(named)
  /** Those that serve the reaction, then those that serve another. */
  const serving = (as: 'titrants' | 'samples') => {
    if (!chosen.value) return there.value.map(named)
    const own = chosen.value[as]
    const others = new Set(list.value.flatMap((t) => t[as]).filter((id) => !own.includes(id)))
    return [...among(own), ...among([...others])]
  }
  const unknown = computed((): Choice[] => (typed.value.aim === 'determine' ? [['', 'an unknown, named below']] : []))
  const titrants = computed(() => serving('titrants'))
  const samples = computed(() => [...unknown.value, ...serving('samples')])
  const reagents = computed(() => (chosen.value ? among(chosen.value.samples) : there.value.map(named)))
  const solids = computed((): Choice[] => [
    ...unknown.value,
    ...substances.value
      .filter((s) => !chosen.value || back.value || chosen.value.solids.includes(s.substance.key))
      .sort((a, b) => Number(b.substance.class === 'primary') - Number(a.substance.class === 'primary'))
      .map((s): Choice => [s.substance.key, s.substance.name]),
  ])

  /** What is not among the choices is the first of those that serve the reaction. */
  function settle() {
    if (!bottles.value) return
    const t = typed.value
    const first = (id: string, options: Choice[], own: readonly string[] | undefined) => {
      const serve = own ? options.filter(([o]) => o === '' || own.includes(o)) : options
      return serve.some(([o]) => o === id) ? id : (serve[0]?.[0] ?? '')
    }
    t.titrantBottle = first(t.titrantBottle, titrants.value, chosen.value?.titrants)
    t.sampleBottle = first(t.sampleBottle, samples.value, chosen.value?.samples)
    t.reagentBottle = first(t.reagentBottle, reagents.value, undefined)
    t.substance = first(t.substance, solids.value, undefined)
  }
  watch([() => typed.value.reaction, () => typed.value.aim, titrants, samples, reagents, solids], settle)

  /** The reaction of a bottle that serves none of the one that stands there, best with the other bottle. */
  function recognise(as: 'titrants' | 'samples', id: string, other: 'titrants' | 'samples', otherId: string) {
    if (!id || !chosen.value || chosen.value[as].includes(id)) return
    const fits = list.value.filter((t) => t[as].includes(id))
    const standard = typed.value.aim === 'standardise'
    const best =
      fits.find((t) => t[other].includes(otherId)) ??
      fits.find((t) => t.standard === standard && (other === 'samples' || t[other].length > 0)) ??
      fits[0]
    if (best) typed.value.reaction = best.key
  }
  watch(
    () => typed.value.titrantBottle,
    (id) => recognise('titrants', id, 'samples', typed.value.sampleBottle),
    { flush: 'sync' },
  )
  watch(
    () => typed.value.sampleBottle,
    (id) => recognise('samples', id, 'titrants', typed.value.titrantBottle),
    { flush: 'sync' },
  )
  return { chosen, back, titrants, samples, reagents, solids }
}
