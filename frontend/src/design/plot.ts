/** What a plot shows. Points are pairs of x and y in the units of its axes. */
export type Point = readonly [x: number, y: number]

/** A line: found (measured or fitted), theory (predicted), or of something beside. */
export interface PlotLine {
  points: readonly Point[]
  as?: 'found' | 'theory' | 'beside' | 'amber' | 'dotted-amber'
}
/** What lies between two lines, the upper one there and the lower one back. */
export type PlotArea = readonly Point[]
/** A reading, with the half width of its interval. */
export interface PlotMark {
  at: Point
  as?: 'ring' | 'dot' | 'square' | 'amber' | 'doubt' | 'coming'
  u?: number
  /** The same along the x axis. */
  ux?: number
}
/** A stretch of one axis: useful, outside of what holds, or turning through colours (upwards). */
export interface PlotBand {
  axis: 'x' | 'y'
  from: number
  to: number
  words?: string
  as?: 'useful' | 'outside'
  colours?: readonly string[]
}
/** A dashed line across, with words at its end. */
export interface PlotRule {
  axis: 'x' | 'y'
  at: number
  words?: string
  as?: 'amber' | 'plain'
}
export interface PlotAxis {
  from: number
  to: number
  /** What is on it, with its unit: at its end. */
  words: string
}

/** The least stretch that holds all of some values, with a margin of a part of it. */
export function around(values: readonly number[], margin = 0.06): { from: number; to: number } {
  const finite = values.filter(Number.isFinite)
  if (finite.length === 0) return { from: 0, to: 1 }
  const [low, high] = [Math.min(...finite), Math.max(...finite)]
  const room = margin * (high - low) || Math.abs(high) * margin || 0.5
  return { from: low - room, to: high + room }
}

/** Rows for words beside one another, so that none is written over another: the first row in which
 * each has room, given where it begins and ends. */
export function rowsOf(words: readonly { from: number; to: number }[]): number[] {
  const ends: number[] = []
  return words.map(({ from, to }) => {
    let row = ends.findIndex((end) => end + 6 < from)
    if (row < 0) row = ends.length
    ends[row] = to
    return row
  })
}
