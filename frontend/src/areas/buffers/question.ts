import type { Bottle, BufferQuestion, LabGlass, LabSubstance, LabSystem, Settings } from '@/api/client'

/** The question as it is typed. */
export const typedQuestion = () => ({
  target: '7.00',
  celsius: '25',
  concentration: '0.05 mol/L',
  basis: '' as '' | '0' | '1' | '2',
  volume: '250 mL',
  row: '',
  mixes: '',
  madeAt: '',
  strength: '',
  strongAcid: '1',
  strongBase: '1',
  acidBottle: '',
  baseBottle: '',
  system: '',
  route: '',
})
export type Typed = ReturnType<typeof typedQuestion>

/** What the lab adds to a question. */
export interface LabGiven {
  settings: Settings
  glass: LabGlass[]
  balance: BufferQuestion['balance']
  bottles: Bottle[]
  substances: LabSubstance[]
  systems: LabSystem[]
  waterTemperature: number
}

/** The stocks among the bottles on the shelf: one solute, counted by amount. */
export const stocksOf = (bottles: Bottle[]): NonNullable<BufferQuestion['shelf']> =>
  bottles
    .filter((b) => b.state === 'shelf' && b.formula.length > 0 && b.concentration.unit === 'mol/L')
    .map((b) => ({
      name: b.name,
      formula: b.formula.map((p) => p.text).join(''),
      concentration: { value: b.concentration.value, contributions: b.concentration.contributions },
      bottle: b.id,
      number: b.number,
      left: b.left,
    }))

/** What is typed as a list, with spaces between. */
const parts = (text: string) => text.split(/[\s;]+/).filter(Boolean)

/** Turns what is typed into the body of the question. Nothing is read or computed here:
 * figures go as they were typed. */
export function questionOf(t: Typed, lab: LabGiven): BufferQuestion {
  return {
    target: t.target,
    celsius: t.celsius,
    madeAt: t.madeAt || lab.waterTemperature,
    concentration: { text: t.concentration, unit: 'mol/L' },
    ...(t.basis ? { basis: Number(t.basis) } : {}),
    volume: { text: t.volume, unit: 'mL' },
    strength: t.strength || 0,
    strongAcid: t.strongAcid || 1,
    strongBase: t.strongBase || 1,
    acidBottle: lab.bottles.some((b) => b.id === t.acidBottle) ? t.acidBottle : '',
    baseBottle: lab.bottles.some((b) => b.id === t.baseBottle) ? t.baseBottle : '',
    system: t.system,
    route: t.route,
    targets: parts(t.row),
    mixes: parts(t.mixes.replaceAll(/\s*\+\s*/g, '+')).map((mix) => {
      const [acid = '', ...base] = mix.split('+')
      return { acid, base: base.join('+') }
    }),
    shelf: stocksOf(lab.bottles),
    substances: lab.substances.filter((s) => s.own).map((s) => s.substance),
    systems: lab.systems.filter((s) => s.own).map((s) => s.system),
    balance: lab.balance,
    glass: lab.glass.map((g) => g.item),
    flaskClass: lab.settings.flaskClass,
    thresholds: lab.settings.thresholds,
  }
}
