import type { Bottle, PastLine } from '@/api/client'
import { held } from '@/bench/held'

/** An unknown as it is typed. */
export const typedUnknown = () => ({ name: '', owner: '', bottle: '', diluted: '' })
export type TypedUnknown = ReturnType<typeof typedUnknown>

/** The question as it is typed. */
export const typedQuestion = () => ({
  from: 'shelf' as 'shelf' | 'typed' | 'line' | 'additions',
  substance: '',
  tubes: [] as string[],
  typed: '0 1 2 3 4 5',
  unit: 'mg/L',
  line: '',
  /** Additions of a standard to portions of the sample: mL, and what is added by its bottle or its concentration. */
  sample: '5',
  final: '25',
  added: '0 1 2 3 4',
  standard: '10',
  bottle: '',
  unknowns: [] as TypedUnknown[],
  wavelength: '880',
  path: '10',
  cells: '1',
  replicates: '1',
  guess: false,
  warm: false,
  photometer: '',
  scatter: 'alike' as 'alike' | 'grows',
  floor: '0.001',
  part: '2',
})
export type Typed = ReturnType<typeof typedQuestion>

/** What may be read as a standard: what holds something per volume, a blank too. */
export const readable = (bottles: readonly Bottle[]) =>
  bottles.filter((b) => b.state === 'shelf' && held(b, 'concentration').some((f) => /\/L/.test(f.unit)))

/** The body of the question: figures go as they were typed. */
export function questionOf(t: Typed, lines: readonly PastLine[]) {
  const unknowns = t.unknowns
    .filter((u) => u.name.trim() || u.bottle)
    .map((u) => ({
      name: u.name.trim(),
      owner: u.owner.trim(),
      ...(u.bottle ? { bottle: u.bottle } : {}),
      ...(u.diluted ? { diluted: u.diluted } : {}),
    }))
  const list = (text: string) => text.split(/[\s;]+/).filter(Boolean)
  const common = { cells: t.cells, replicates: t.replicates, guess: t.guess, warm: t.warm, unknowns }
  if (t.from === 'line')
    return { ...common, substance: '', wavelength: 0, path: 0, line: t.line || (lines[0]?.run ?? '') }
  if (t.from === 'additions')
    return {
      ...common,
      unknowns: [],
      substance: t.substance.trim(),
      wavelength: t.wavelength,
      path: t.path,
      unit: t.unit.trim(),
      additions: {
        sample: t.sample,
        final: t.final || 0,
        added: list(t.added),
        ...(t.bottle ? { bottle: t.bottle } : { standard: t.standard }),
      },
    }
  return {
    ...common,
    ...(t.scatter === 'grows' ? { scatter: { floor: t.floor, part: t.part } } : {}),
    substance: t.substance.trim(),
    wavelength: t.wavelength,
    path: t.path,
    ...(t.from === 'shelf' ? { bottles: t.tubes } : { typed: list(t.typed), unit: t.unit.trim() }),
  }
}
