import type { DilutionQuestion, LabGlass, Settings } from '@/api/client'

export type Mode = DilutionQuestion['mode']
export type Objective = NonNullable<DilutionQuestion['objective']>

/** The question as it is typed. */
export const typedQuestion = () => ({
  bottle: '',
  stock: '0.1000 mol/L',
  stockKnown: '',
  mode: 'chain' as Mode,
  wanted: '1 in 100',
  volume: '100',
  steps: '2',
  maxLiquid: '',
  maxStock: '',
  objective: 'uncertainty' as Objective,
  list: '0 1 2 3 4 5',
  as: 'volumes' as 'volumes' | 'targets' | 'even' | 'factor',
  from: '0',
  to: '0.05',
  count: '6',
  each: '5',
  into: 'tubes' as 'tubes' | 'flasks',
  portions: 'measured' as 'measured' | 'weighed',
  density: '',
  densityLimits: '',
  factors: ['10', '10', '10'],
  keep: '20',
  rinse: '5',
})
export type Typed = ReturnType<typeof typedQuestion>

/** A series is listed tube by tube, or spread from one concentration to another. */
export const isListed = (t: Typed) => t.as === 'volumes' || t.as === 'targets'
/** Portions are weighed into flasks only: two burettes measure by themselves. */
export const isWeighed = (t: Typed) => t.portions === 'weighed' && !(t.mode === 'series' && t.into === 'tubes')

/** What the lab adds to a question. */
export interface LabGiven {
  stock: DilutionQuestion['stock']
  settings: Settings
  glass: LabGlass[]
  balance: DilutionQuestion['balance']
  waterTemperature: number
  route: number
}

/** Turns what is typed into the body of the question. Nothing is read or computed here:
 * figures go as they were typed. */
export function questionOf(t: Typed, lab: LabGiven): DilutionQuestion {
  const common = {
    stock: {
      ...lab.stock,
      ...(t.bottle ? {} : { expanded: t.stockKnown }),
      ...(isWeighed(t) && !lab.stock.density ? { density: t.density, densityLimits: t.densityLimits } : {}),
    },
    weighed: isWeighed(t),
    balance: lab.balance,
    mode: t.mode,
    keep: t.mode === 'series' ? '' : t.keep, // a tube of a series is kept whole
    rinse: t.rinse,
    volume: t.mode === 'series' ? t.each : t.volume,
    glass: lab.glass.map((g) => g.item),
    class: lab.settings.flaskClass,
    waterTemperature: lab.waterTemperature,
    thresholds: lab.settings.thresholds,
  }
  if (t.mode === 'series') {
    const spread = { from: t.from || '0', to: t.to, count: t.count, logarithmic: t.as === 'factor' }
    const list = t.list.split(/[\s;]+/).filter(Boolean)
    return { ...common, ...(isListed(t) ? { [t.as]: list } : { spread }), inFlasks: t.into === 'flasks' }
  }
  if (t.mode === 'chain') return { ...common, volume: '', factors: t.factors }
  const isFigure = /^[\d.,\s]*$/.test(t.wanted)
  return {
    ...common,
    ...(isFigure ? { target: t.wanted } : { factor: t.wanted.slice(0, 40) }),
    maxSteps: Number(t.steps),
    maxLiquid: t.maxLiquid,
    maxStock: t.maxStock,
    objective: t.objective,
    route: lab.route,
  }
}
