import createClient from 'openapi-fetch'
import { learn } from './clock'
import { noteSeen } from './events'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type Article = Schemas['Article']
export type StockEntry = Schemas['StockEntry']
export type CalendarFeed = Schemas['CalendarFeed']
export type OpenedUnknowns = Schemas['OpenedUnknowns']
export type Unknowns = Schemas['Unknowns']
export type Classwork = Schemas['Classwork']
export type ClassCell = Schemas['ClassCell']
export type ClassGroup = Schemas['ClassGroup']
export type ClassResult = Schemas['ClassResult']
export type ClassResults = Schemas['ClassResults']
export type ClassSheet = Schemas['ClassSheet']
export type ClassTask = Schemas['ClassTask']
export type ClassView = Schemas['ClassView']
export type SheetTask = Schemas['SheetTask']
export type SlipCause = Schemas['SlipCause']
export type Account = Schemas['Account']
export type Bench = Schemas['Bench']
export type Bottle = Schemas['Bottle']
export type CapacityView = Schemas['CapacityView']
export type Choice = Schemas['Choice']
export type BufferAnswer = Schemas['BufferAnswer']
export type BufferLandscape = Schemas['BufferLandscape']
export type BufferQuestion = Schemas['BufferQuestion']
export type DilutionAnswer = Schemas['DilutionAnswer']
export type DilutionQuestion = Schemas['DilutionQuestion']
export type Fact = Schemas['Fact']
export type Figure = Schemas['Figure']
export type FactLine = Schemas['FactLine']
export type BalanceCheck = Schemas['BalanceCheck']
export type HistoryEntry = Schemas['HistoryEntry']
export type ImportReport = Schemas['ImportReport']
export type Kin = Schemas['Kin']
export type LabBalance = Schemas['LabBalance']
export type Dependent = Schemas['Dependent']
export type Buffer = Schemas['Buffer']
export type CalibrationDesign = Schemas['CalibrationDesign']
export type LabMeter = Schemas['LabMeter']
export type LabPhotometer = Schemas['LabPhotometer']
export type MeterHistory = Schemas['MeterHistory']
export type PastCalibration = Schemas['PastCalibration']
export type ReadingRow = Schemas['ReadingRow']
export type LabGlass = Schemas['LabGlass']
export type LabSubstance = Schemas['LabSubstance']
export type LabSystem = Schemas['LabSystem']
export type Indicator = Schemas['Indicator']
export type AbsorbanceView = Schemas['AbsorbanceView']
export type AbsorbanceVessel = Schemas['AbsorbanceVessel']
export type ScanView = Schemas['ScanView']
export type MixtureView = Schemas['MixtureView']
export type PastLine = Schemas['PastLine']
export type Tip = Schemas['Tip']
export type Titration = Schemas['Titration']
export type TitrationDesign = Schemas['TitrationDesign']
export type CurveAnswer = Schemas['CurveAnswer']
export type CurveView = Schemas['CurveView']
export type EquationAnswer = Schemas['EquationAnswer']
export type SignedIn = Schemas['SignedIn']
export type Standardised = Schemas['Standardised']
export type LogEntry = Schemas['LogEntry']
export type NewFact = Schemas['NewFact']
export type Piece = Schemas['Piece']
export type Problem = Schemas['Problem']
export type QuantityQuestion = Schemas['QuantityQuestion']
export type Run = Schemas['Run']
export type RunSummary = Schemas['RunSummary']
export type Settings = Schemas['Settings']
export type StandardAnswer = Schemas['StandardAnswer']
export type StandardQuestion = Schemas['StandardQuestion']
export type Step = Schemas['Step']
export type LabSession = Schemas['LabSession']
export type LabSessionLine = Schemas['LabSessionLine']
export type NextTask = Schemas['NextTask']
export type PastTask = Schemas['PastTask']
export type SessionBar = Schemas['SessionBar']
export type SessionDesign = Schemas['SessionDesign']
export type SessionItem = Schemas['SessionItem']
export type SessionNeed = Schemas['SessionNeed']
export type SessionPlan = Schemas['SessionPlan']
export type SessionSupply = Schemas['SessionSupply']
export type Today = Schemas['Today']
export type Verdict = Schemas['Verdict']
export type SubstanceMatch = Schemas['SubstanceMatch']
export type NewPlan = Schemas['NewPlan']
export type Plan = Schemas['Plan']
export type Vessel = Schemas['Vessel']
export type WorkingLine = Schemas['WorkingLine']

export const api = createClient<paths>({ baseUrl: '/api/v1' })

const askedAt = new WeakMap<Request, number>()
api.use({
  onRequest: ({ request }) => void askedAt.set(request, Date.now()),
  onResponse: ({ request, response }) => {
    learn(response, askedAt.get(request) ?? 0)
    const seen = response.headers.get('Seen')
    if (seen) noteSeen(seen)
  },
})

/** An answer that is a problem: a sentence for the person, and the fields it is about. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly fields: Map<string, string> = new Map(),
    /** How long to wait before asking again, in ms, when the server says so. */
    readonly retryAfter?: number,
  ) {
    super(detail)
  }
}

/** The network did not carry the request; it may be sent again. */
export class Unreachable extends Error {
  constructor(readonly retryAfter?: number) {
    super('The server cannot be reached. What you typed is kept.')
  }
}

let onUnauthorized: () => void = () => {}

/** Says what to do when a session turns out to have ended. */
export function whenUnauthorized(act: () => void) {
  onUnauthorized = act
}

interface Answer<T> {
  data?: T
  error?: Problem
  response: Response
}

/** Waits for an answer and returns its data, or throws a ProblemError or Unreachable. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Unreachable()
  }
  if (answer.error === undefined && answer.response.ok) return answer.data as T
  const { status } = answer.response
  if (status === 401) onUnauthorized()
  const seconds = Number(answer.response.headers.get('Retry-After') ?? NaN)
  const retryAfter = seconds > 0 ? 1000 * seconds : undefined
  if (status >= 502) throw new Unreachable(retryAfter)
  const fields = new Map((answer.error?.errors ?? []).map((e) => [e.pointer, e.detail]))
  throw new ProblemError(status, answer.error?.detail ?? `The server answered ${status}.`, fields, retryAfter)
}

/** How long to wait before asking again, in ms, where what went wrong may pass by itself. */
export function pause(error: unknown): number | undefined {
  if (error instanceof Unreachable) return error.retryAfter ?? 3000
  return error instanceof ProblemError ? error.retryAfter : undefined
}

/** What is wrong with a question that came inside a plan, by the fields of the question. */
export const ofQuestion = (fields: Map<string, string>) =>
  new Map([...fields].map(([field, says]) => [field.replace(/^\/question/, ''), says]))

/** The sentence of anything that was thrown. */
export function sentence(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error)
  return text.charAt(0).toUpperCase() + text.slice(1)
}
