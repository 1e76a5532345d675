import type { PastLine } from '@/api/client'

/** The question as it is typed. */
export const typedQuestion = () => ({
  first: '',
  second: '',
  at: ['', ''] as [string, string],
  samples: [{ name: '', diluted: '' }],
  replicates: '1',
  photometer: '',
})
export type Typed = ReturnType<typeof typedQuestion>

/** What a line is of. */
export const substanceOf = (l: PastLine) => `${l.substance}, ${l.unit}`

/** The wavelengths at which two substances both have a line, through cells of one path. */
export function shared(lines: readonly PastLine[], first: string, second: string): number[] {
  const of = (name: string) => lines.filter((l) => substanceOf(l) === name)
  const found = of(first)
    .filter((l) => of(second).some((other) => other.wavelength === l.wavelength && other.path === l.path))
    .map((l) => l.wavelength)
  return [...new Set(found)].sort((a, b) => a - b)
}

/** The substances that can be read beside another one: both have lines at the same two wavelengths. */
export function paired(lines: readonly PastLine[], beside?: string): string[] {
  const names = [...new Set(lines.map(substanceOf))]
  const goWith = (a: string, b: string) => a !== b && shared(lines, a, b).length > 1
  return names.filter((a) => (beside === undefined ? names.some((b) => goWith(a, b)) : goWith(a, beside)))
}

/** The newest lines for it: of the first substance at both wavelengths, then of the second. The lines come newest first. */
export function linesFor(lines: readonly PastLine[], t: Typed): PastLine[] {
  const newest = (name: string, nm: string) => lines.find((l) => substanceOf(l) === name && String(l.wavelength) === nm)
  return [t.first, t.second].flatMap((name) => t.at.map((nm) => newest(name, nm))).filter((l) => l !== undefined)
}

/** The body of the question: figures go as they were typed. */
export const questionOf = (t: Typed, lines: readonly PastLine[]) => ({
  lines: linesFor(lines, t).map((l) => l.run),
  samples: t.samples
    .filter((s) => s.name.trim())
    .map((s) => ({ name: s.name.trim(), ...(s.diluted ? { diluted: s.diluted } : {}) })),
  replicates: t.replicates,
})

/** Puts what can be chosen in place of what cannot be any more. */
export function settle(t: Typed, lines: readonly PastLine[]) {
  const firsts = paired(lines)
  if (!firsts.includes(t.first)) t.first = firsts[0] ?? ''
  const seconds = paired(lines, t.first)
  if (!seconds.includes(t.second)) t.second = seconds[0] ?? ''
  const nm = shared(lines, t.first, t.second).map(String)
  if (!nm.includes(t.at[0])) t.at[0] = nm.find((one) => one !== t.at[1]) ?? ''
  if (!nm.includes(t.at[1]) || t.at[1] === t.at[0]) t.at[1] = nm.find((one) => one !== t.at[0]) ?? ''
}
