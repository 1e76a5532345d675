/** What the page asks, as it is typed. */
export const asTyped = {
  reaction: 'phthalate-for-base',
  equation: '',
  titrant: '',
  analyte: '',
  indicator: '',
  aim: 'standardise' as 'standardise' | 'determine',
  titrantBottle: '',
  sampleBottle: '',
  substance: '',
  name: '',
  by: 'pipette' as 'pipette' | 'burette' | 'cylinder' | 'weighed',
  volume: '25',
  mass: '0.5',
  sampleIs: 'solution' as 'solution' | 'solid',
  flask: '250',
  diluted: '',
  density: '',
  device: 'burette' as 'burette' | 'graduated pipette' | 'syringe' | 'drops',
  burette: '50',
  tip: '',
  drop: '0.05',
  way: 'direct' as 'direct' | 'back',
  backEquation: '',
  backAnalyte: '',
  reagentBottle: '',
  reagent: '50',
  settles: 'no' as 'no' | 'yes',
  note: '',
}
export type Typed = typeof asTyped

/** What may stand in the fields that are chosen, not typed. */
const choices: Partial<Record<keyof Typed, readonly string[]>> = {
  aim: ['standardise', 'determine'],
  by: ['pipette', 'burette', 'cylinder', 'weighed'],
  sampleIs: ['solution', 'solid'],
  device: ['burette', 'graduated pipette', 'syringe', 'drops'],
  way: ['direct', 'back'],
  settles: ['no', 'yes'],
}
const longest = 500

/** What a link for a class brings, as far as it can stand in a field; nothing of an address that
 * brings no question. */
export function fromLink(query: Record<string, unknown>): Typed | undefined {
  const given = (Object.keys(asTyped) as (keyof Typed)[]).flatMap((key) => {
    const text = query[key]
    if (typeof text !== 'string' || text.length > longest) return []
    return !choices[key] || choices[key].includes(text) ? [[key, text] as const] : []
  })
  return given.length ? { ...asTyped, ...Object.fromEntries(given) } : undefined
}

/** A back titration tells what is in the flask: an excess takes part of it, and its rest is
 * titrated. */
export const isBack = (t: Typed) => t.aim === 'determine' && t.way === 'back'

/** A solid that is weighed and made up to a flask, of which the samples are taken. */
export const isDissolved = (t: Typed) => t.aim === 'determine' && t.by !== 'weighed' && t.sampleIs === 'solid'

/** Whether the sample is a solid, of a known substance or named. */
export const isSolid = (t: Typed) => t.by === 'weighed' || isDissolved(t)

/** Whether the bottle of the sample could take over what is found. */
export const maySettle = (t: Typed) =>
  t.aim === 'determine' && t.way === 'direct' && !isSolid(t) && t.sampleBottle !== '' && !t.diluted.trim()

/** The size and the mark of a piece of glass, as it was chosen. */
function pieceOf(chosen: string) {
  const [burette, ...mark] = chosen.split(' ')
  return { burette, ...(mark.length ? { mark: mark.join(' ') } : {}) }
}

/** The question, with the fields that its way needs; figures go as they were typed. */
export function questionOf(t: Typed, celsius: number) {
  const found = t.aim === 'determine'
  return {
    ...(t.reaction
      ? { reaction: t.reaction }
      : { equation: t.equation, titrant: t.titrant, analyte: t.analyte, indicator: t.indicator }),
    standardise: !found,
    titrantBottle: t.titrantBottle,
    by: t.by,
    ...(isSolid(t) ? { substance: t.substance } : { sampleBottle: isBack(t) ? '' : t.sampleBottle }),
    ...(t.by === 'weighed' ? { mass: t.mass } : { volume: t.volume }),
    ...(isDissolved(t) ? { dissolved: { mass: t.mass, flask: t.flask } } : {}),
    ...(isBack(t)
      ? {
          backEquation: t.backEquation.trim() || ' ', // none at all would ask for a direct one
          backAnalyte: t.backAnalyte,
          reagentBottle: t.reagentBottle,
          reagent: t.reagent || 0,
        }
      : {}),
    name: t.name.trim(),
    diluted: found ? t.diluted || 0 : 0,
    density: found && !isSolid(t) ? t.density || 0 : 0,
    ...(t.device === 'drops'
      ? { device: t.device, ...(t.tip ? { tip: t.tip } : { drop: t.drop || 0 }) }
      : { device: t.device, ...pieceOf(t.burette) }),
    ...(maySettle(t) && t.settles === 'yes' ? { settles: true } : {}),
    note: t.note.trim(),
    celsius,
  }
}
