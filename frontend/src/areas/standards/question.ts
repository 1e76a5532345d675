import type { LabSubstance, StandardQuestion } from '@/api/client'

/** One substance more in the same flask, as it is typed. */
export interface AlsoTyped {
  key: string
  concentration: string
  of: string
  assay: string
}

/** The question as it is typed. */
export const typedQuestion = () => ({
  key: 'potassium-hydrogen-phthalate',
  concentration: '0.1000 mol/L',
  of: '',
  volume: '250 mL',
  makeUp: '',
  inBatches: false,
  assay: '100',
  limits: '0',
  dryingLoss: '',
  flaskClass: '',
  band: '',
  wanted: '',
  waters: '',
  density: '',
  densityLimits: '0.001',
  equivalents: '',
  reaction: '',
  dispense: '',
  liquidDensity: '',
  molarity: '',
  molarityLimits: '0.1',
  also: [] as AlsoTyped[],
})
export type Typed = ReturnType<typeof typedQuestion>

/** What the lab adds to a question. */
export interface LabGiven {
  substances: LabSubstance[]
  glass: StandardQuestion['glass']
  balance: StandardQuestion['balance']
  balances: StandardQuestion['balances']
  waterTemperature: number
  buoyancy: boolean
  thresholds: StandardQuestion['thresholds']
}

const number = (text: string) => (text.trim() === '' ? NaN : Number(text.replace(',', '.').replace('%', '').trim()))

/** Fields that only some bases need. */
export const needsDensity = (q: Typed) => /w\/w|\/kg/.test(q.concentration) || q.makeUp === 'mass'
export const needsReaction = (q: Typed) => /eq\/|\dN|\d\s+m?N\b/i.test(q.concentration)

/** Turns what is typed into the body of the question, or says which fields are no
 * numbers. Nothing is computed here. */
export function questionOf(q: Typed, lab: LabGiven): StandardQuestion | Map<string, string> {
  const find = (key: string) => lab.substances.find((s) => s.substance.key === key)!.substance
  const substance = find(q.key)
  const density = needsDensity(q)
  const reaction = needsReaction(q)
  const measured = substance.liquid && (q.dispense === 'cylinder' || q.dispense === 'graduated pipette')
  const fields = new Map(
    Object.entries({
      '/assay': q.assay,
      '/assayLimits': q.limits || '0',
      '/dryingLoss': substance.liquid ? '0' : q.dryingLoss || '0',
      '/band': q.band,
      '/wanted': q.wanted || '0',
      '/solutionDensity': density ? q.density || '0' : '0',
      '/solutionDensityLimits': density ? q.densityLimits || '0' : '0',
      '/liquidDensity': substance.liquid ? q.liquidDensity || '0' : '0',
      '/statedMolarity': measured ? q.molarity || '0' : '0',
      '/statedMolarityLimits': measured && q.molarity ? q.molarityLimits || '0' : '0',
      '/equivalentCount': reaction ? q.equivalents || '0' : '0',
    }).map(([field, text]) => [field, number(text)]),
  )
  q.also.forEach((a, i) => fields.set(`/also/${i}/assay`, number(a.assay)))
  const wrong = new Map<string, string>()
  fields.forEach((value, field) => {
    if (Number.isNaN(value)) wrong.set(field, 'Write a number, like 99.95')
  })
  if (wrong.size > 0) return wrong
  const of = (field: string) => fields.get(field)!
  return {
    substance,
    assayPercent: of('/assay'),
    assayLimitsPercent: of('/assayLimits'),
    dryingLossPercent: of('/dryingLoss'),
    concentration: { text: q.concentration.slice(0, 9999), unit: 'mol/L' },
    of: q.of,
    ...(q.waters === '' ? {} : { waters: number(q.waters) }),
    solutionDensity: of('/solutionDensity'),
    solutionDensityLimits: of('/solutionDensityLimits'),
    equivalentCount: of('/equivalentCount'),
    reaction: reaction ? q.reaction.trim() : '',
    liquidDensity: of('/liquidDensity'),
    statedMolarity: of('/statedMolarity'),
    statedMolarityLimits: of('/statedMolarityLimits'),
    ...(measured ? { dispense: q.dispense as 'cylinder' | 'graduated pipette' } : {}),
    also: substance.liquid
      ? []
      : q.also.map((a, i) => ({
          substance: find(a.key),
          assayPercent: of(`/also/${i}/assay`),
          concentration: { text: a.concentration.slice(0, 9999), unit: 'mol/L' },
          of: a.of,
        })),
    volume: { text: q.volume.slice(0, 9999), unit: 'mL' },
    makeUp: q.makeUp === 'mass' || q.makeUp === 'adding' ? q.makeUp : '',
    inBatches: q.inBatches,
    glass: lab.glass,
    flaskClass: q.flaskClass === 'B' ? 'B' : 'A',
    bandPercent: of('/band'),
    wantedPercent: of('/wanted'),
    balance: lab.balance,
    balances: lab.balances,
    waterTemperature: lab.waterTemperature,
    buoyancy: lab.buoyancy,
    thresholds: lab.thresholds,
  }
}
