import type { Buffer } from '@/api/client'

/** The question as it is typed: up to five buffers by their keys, or bottles with values of
 * their own. */
export const typedQuestion = () => ({
  meter: '',
  celsius: '',
  low: '',
  high: '',
  buffers: ['phosphate', 'phthalate', 'borax', '', ''],
  own: Array.from({ length: 5 }, () => ({ name: '', pH: '', celsius: '25', limits: '0.02' })),
  opened: Array.from({ length: 5 }, () => ''),
})
export type Typed = ReturnType<typeof typedQuestion>

/** Turns what is typed into the body of the question. Figures go as they were typed. */
export function questionOf(t: Typed, library: Buffer[], celsius: string) {
  const buffers = t.buffers.flatMap((key, i): Buffer[] => {
    if (key === '') return []
    const opened = t.opened[i] ?? ''
    const own = t.own[i]
    if (key === 'own' && own)
      return [{ key: '', name: own.name, table: [{ celsius: own.celsius, pH: own.pH }], limits: own.limits, opened }]
    const known = library.find((b) => b.key === key)
    return known ? [{ ...known, opened }] : []
  })
  return { buffers, celsius, low: t.low, high: t.high }
}
