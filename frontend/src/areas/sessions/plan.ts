import type { SessionBar, SessionItem, SessionPlan } from '@/api/client'
import { newId } from '@/api/id'
import { clock, day } from '@/design/time'

/** A session as it is typed: times as the clock on the wall shows them. */
export interface Typed {
  title: string
  place: string
  day: string
  from: string
  to: string
  groups: string
  meters: string
  items: ItemTyped[]
  people: { name: string; from: string; to: string }[]
  own: { id: string; title: string; hands: string; wait: string }[]
}
export type ItemTyped = Required<Pick<SessionItem, 'id' | 'name' | 'each' | 'from'>> & {
  concentration: string
  pH: string
  times: string
  glass: NonNullable<SessionItem['glass']>
  size: string
  pieces: string
  standardised: boolean
  allowances: Record<string, string>
}

export const glassNames: [ItemTyped['glass'], string][] = [
  ['', 'poured'],
  ['burette', 'a burette'],
  ['pipette', 'a pipette'],
  ['cuvette', 'a cuvette'],
  ['probe', 'a beaker with a probe'],
]

export const newItem = (): ItemTyped => ({
  id: newId().slice(-12),
  name: '',
  concentration: '',
  pH: '',
  each: '20 mL',
  times: '2',
  glass: '',
  size: '',
  pieces: '1',
  standardised: false,
  allowances: {},
  from: '',
})

/** A liquid as a plan knows it, in the fields. */
export const itemOf = (item: SessionItem): ItemTyped => ({
  ...newItem(),
  ...item,
  id: newId().slice(-12),
  times: String(item.times),
  pieces: String(item.pieces ?? 1),
  allowances: {},
  from: '',
})

/** A week from today at nine. */
export function newSession(who: string): Typed {
  const then = new Date()
  then.setDate(then.getDate() + 7)
  return {
    title: '',
    place: '',
    day: day(then.toISOString()),
    from: '09:00',
    to: '12:00',
    groups: '12',
    meters: '0',
    items: [],
    people: [{ name: who, from: '08:00', to: '17:00' }],
    own: [],
  }
}

/** How a kept session stands in the fields. */
export const typedOf = (plan: SessionPlan): Typed => ({
  title: plan.title,
  place: plan.place ?? '',
  day: day(plan.starts),
  from: clock(plan.starts),
  to: clock(plan.ends),
  groups: String(plan.groups),
  meters: String(plan.meters),
  items: plan.items.map((item) => ({
    ...newItem(),
    ...item,
    times: String(item.times),
    pieces: String(item.pieces ?? 1),
    allowances: { ...item.allowances },
  })),
  people: plan.people.map((person) => ({ ...person })),
  own: plan.own.map((task) => ({ ...task, hands: String(task.hands), wait: String(task.wait) })),
})

const moment = (date: string, time: string) => {
  const at = new Date(`${date.trim()}T${time.trim()}`)
  return isNaN(at.getTime()) ? undefined : at.toISOString()
}
/** A whole number as typed; −1 of what is none, which the rules refuse beside its field. */
const whole = (text: string) => (/^\d{1,5}$/.test(text.trim()) ? Number(text) : -1)

const format = 'vialbench-session/1'
const fromFile = 'vialbench-session from a file'

/** A session as a file, to be planned from again, here or in another lab: without its day and the bottles it takes. */
export function asFile(plan: SessionPlan): Blob {
  const items = plan.items.map((item) => ({ ...item, from: '' }))
  return new Blob([JSON.stringify({ format, session: { ...plan, items } }, null, 2)], { type: 'application/json' })
}

/** Reads such a file, for the next new session; says what is wrong with one that cannot be read. */
export async function takeFile(file: File): Promise<string> {
  try {
    const found = JSON.parse((await file.text()).slice(0, 1_000_000)) as { format?: string; session?: SessionPlan }
    if (found.format !== format || !found.session) return `This is not a session: its format should be ${format}.`
    typedOf(found.session) // or it cannot be shown
    sessionStorage.setItem(fromFile, JSON.stringify(found.session))
    return ''
  } catch {
    return 'This file cannot be read: it should be a session that was saved here.'
  }
}

/** What a new session begins with: a file that was taken, on the day that is proposed, or nothing but who asks. */
export function beginning(who: string): Typed {
  const fresh = newSession(who)
  const kept = sessionStorage.getItem(fromFile)
  sessionStorage.removeItem(fromFile)
  return kept ? { ...typedOf(JSON.parse(kept) as SessionPlan), day: fresh.day } : fresh
}

/** What can be planned of a session that is still typed: a title and what a liquid is called may come last. */
export const draftOf = (plan: SessionPlan): SessionPlan => ({
  ...plan,
  title: plan.title.trim() || 'A new session',
  items: plan.items.filter((item) => item.name.trim() !== ''),
})

/** The session that is typed; what cannot be sent is said by its field. */
export function planOf(typed: Typed): { plan?: SessionPlan; wrong: Map<string, string> } {
  const wrong = new Map<string, string>()
  const starts = moment(typed.day, typed.from)
  const ends = moment(typed.day, typed.to)
  if (!/^\d{4}-\d\d-\d\d$/.test(typed.day.trim()) || !moment(typed.day, '12:00'))
    wrong.set('/day', 'a day, like 2026-12-09')
  else if (!starts) wrong.set('/starts', 'a time, like 09:00')
  else if (!ends) wrong.set('/ends', 'a time, like 12:00')
  if (wrong.size > 0) return { wrong }
  return {
    wrong,
    plan: {
      title: typed.title,
      place: typed.place,
      starts: starts!,
      ends: ends!,
      zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
      groups: whole(typed.groups),
      meters: whole(typed.meters),
      items: typed.items.map(({ times, pieces, allowances, ...item }) => ({
        ...item,
        times: whole(times),
        pieces: whole(pieces),
        allowances: Object.fromEntries(Object.entries(allowances).filter(([, text]) => text.trim() !== '')),
      })),
      people: typed.people,
      own: typed.own.map((task) => ({ ...task, hands: whole(task.hands), wait: whole(task.wait) })),
    },
  }
}

/** What the question of a task begins with, as far as the plan knows it. */
export function fieldsFor(bar: SessionBar, plan: SessionPlan): object {
  const bottle = bar.option?.takes[0]?.bottle
  if (bar.kind === 'titration') return bar.option?.how === 'bottle' ? { aim: 'standardise', titrantBottle: bottle } : {}
  const item = plan.items.find((i) => i.id === bar.item)
  const flasks = bar.option?.flasks ?? []
  const sum = flasks.reduce((all, one) => all + one, 0)
  if (!item || flasks.length === 0) return {}
  if (bar.kind === 'standard')
    return {
      key: bar.option?.key,
      concentration: item.concentration,
      volume: `${sum} mL`,
      inBatches: flasks.length > 1,
    }
  if (bar.kind === 'dilution') return { mode: 'one', bottle, wanted: bar.option?.wanted, volume: String(flasks[0]) }
  return { target: item.pH, concentration: item.concentration, volume: `${sum} mL` }
}

/** “1 h 10” of minutes, “40 min” below an hour. */
export function minutes(n: number): string {
  if (n < 60) return `${n} min`
  const rest = n % 60
  return rest ? `${Math.floor(n / 60)} h ${rest}` : `${Math.floor(n / 60)} h`
}

/** How far the time of a task can be changed, in words. */
export function spare(bar: SessionBar): string {
  if (bar.later >= 15) return bar.later >= 1440 ? 'a day or more to spare' : `${minutes(bar.later)} to spare`
  if (bar.earlier >= 1440) return 'or any time before'
  return bar.earlier >= 15 ? `or up to ${minutes(bar.earlier)} earlier` : 'no time to spare'
}

const dayNames: Intl.DateTimeFormatOptions = { weekday: 'long', day: 'numeric', month: 'long' }
/** “Wednesday 9 December”. */
export const longDay = (moment: string) => new Date(moment).toLocaleDateString('en-GB', dayNames).replace(',', '')
/** “Wed 9 Dec, 15:20”; the time alone of today. */
export function shortly(moment: string): string {
  if (day(moment) === day(new Date().toISOString())) return clock(moment)
  const date = new Date(moment).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' })
  return `${date.replace(',', '')}, ${clock(moment)}`
}
