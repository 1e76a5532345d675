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
  limits: '0.05',
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

/** Fields that only some bases need. */
export const needsDensity = (q: Typed) =>
  /w\/w|\/kg|molal\b/.test(q.concentration) || q.makeUp === 'mass' || (q.makeUp === 'adding' && q.density !== '')
export const needsReaction = (q: Typed) => /eq\/|\dN|\d\s+m?N\b/i.test(q.concentration)

/** Turns what is typed into the body of the question. Nothing is read or computed here:
 * figures go as they were typed. */
export function questionOf(q: Typed, lab: LabGiven): StandardQuestion | undefined {
  const find = (key: string) => lab.substances.find((s) => s.substance.key === key)?.substance
  const substance = find(q.key)
  if (!substance) return undefined
  const density = needsDensity(q)
  const reaction = needsReaction(q)
  const measured = substance.liquid && (q.dispense === 'cylinder' || q.dispense === 'graduated pipette')
  return {
    substance,
    assayPercent: q.assay,
    assayLimitsPercent: q.limits,
    dryingLossPercent: substance.liquid ? '' : q.dryingLoss,
    concentration: { text: q.concentration.slice(0, 9999), unit: 'mol/L' },
    of: q.of,
    ...(q.waters === '' ? {} : { waters: q.waters }),
    solutionDensity: density ? q.density : '',
    solutionDensityLimits: density && q.density ? q.densityLimits : '',
    equivalentCount: reaction ? q.equivalents : '',
    reaction: reaction ? q.reaction.trim() : '',
    liquidDensity: substance.liquid ? q.liquidDensity : '',
    statedMolarity: measured ? q.molarity : '',
    statedMolarityLimits: measured && q.molarity ? q.molarityLimits : '',
    ...(measured ? { dispense: q.dispense as 'cylinder' | 'graduated pipette' } : {}),
    also: substance.liquid
      ? []
      : q.also.map((a) => ({
          substance: find(a.key) ?? substance,
          assayPercent: a.assay,
          concentration: { text: a.concentration.slice(0, 9999), unit: 'mol/L' },
          of: a.of,
        })),
    volume: { text: q.volume.slice(0, 9999), unit: 'mL' },
    makeUp: q.makeUp === 'mass' || q.makeUp === 'adding' ? q.makeUp : '',
    inBatches: q.inBatches,
    glass: lab.glass,
    flaskClass: q.flaskClass === 'B' ? 'B' : 'A',
    bandPercent: q.band,
    wantedPercent: q.wanted,
    balance: lab.balance,
    balances: lab.balances,
    waterTemperature: lab.waterTemperature,
    buoyancy: lab.buoyancy,
    thresholds: lab.thresholds,
  }
}

/** What a substance is bought as, in per cent, as the fields show it. */
export const usualAssay = (s: LabSubstance['substance']) => {
  const percent = (x: number) => String(Number((100 * x).toPrecision(6)))
  return { assay: percent(s.assay ?? s.massFraction ?? 1), limits: percent(s.assayLimits ?? 0) }
}
