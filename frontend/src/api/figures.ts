import { ProblemError } from './client'

/** Reads one figure as it is typed in a form of the setup: a point or a comma before the
 * decimals; NaN for anything else, also for "1,000", which can be read two ways. */
export function figure(text: string): number {
  const plain = text.trim().replace(/\s?%$/, '')
  if (!/^[-−+]?\d+([.,]\d*)?(e[-+]?\d+)?$/i.test(plain) || /^[-−+]?[1-9]\d{0,2},\d{3}$/.test(plain)) return NaN
  return Number(plain.replace(',', '.').replace('−', '-'))
}

/** Reads the figures of a form; what is none is a problem beside its field. Fields that may
 * be left empty have a default. */
export function figures<T extends string>(typed: Record<T, string>, empty: Partial<Record<T, number>> = {}) {
  const wrong = new Map<string, string>()
  const read = {} as Record<T, number>
  for (const name of Object.keys(typed) as T[]) {
    const fallback = empty[name]
    read[name] = typed[name].trim() === '' && fallback !== undefined ? fallback : figure(typed[name])
    if (Number.isNaN(read[name])) wrong.set(`/${name}`, 'Write a number, like 12.5')
  }
  if (wrong.size > 0) throw new ProblemError(422, 'Some of these are not numbers.', wrong)
  return read
}

/** An error of a class with its sign and one decimal, which is what it is good for; empty where there is none. What rounds to nothing
 * has no sign. */
export function signed(x: number | undefined, sign = '+'): string {
  if (x === undefined) return ''
  const shown = x.toFixed(1)
  if (Number(shown) === 0) return '0.0'
  return `${x > 0 ? sign : ''}${shown}`.replace('-', '−')
}
