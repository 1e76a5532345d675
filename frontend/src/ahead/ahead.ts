import { ref, shallowReactive } from 'vue'
import { api, ask, ProblemError, type NewFact, type Run, type Step } from '@/api/client'
import { now } from '@/api/clock'
import { whenIdle } from '@/api/idle'

/** Where a run stands with what is kept on this device, worked out here: by the core itself, in a worker of
 * its own. */
interface Answer {
  answer?: { outcome: Run['outcome']; lines: Run['facts']; step?: Step }
  problems?: { field: string; reason: string }[]
  failed?: string
}

/** How long an answer may take, in ms: far longer than that of any run should. */
const answerWithin = 20_000

let worker: Worker | undefined
const ready = ref(false)
let asked = 0
const waiting = new Map<number, { resolve: (answer: Answer) => void; reject: (error: unknown) => void }>()
/** The plans of the runs that are open, as they are kept. */
const plans = shallowReactive(new Map<string, object>())

function load() {
  if (worker) return
  worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
  worker.onmessage = ({ data }: MessageEvent<{ ready?: boolean; id?: number; answer?: string; failed?: string }>) => {
    if (data.ready === true) ready.value = true
    if (data.ready === false) worker = undefined // the network went before it was here
    const asker = waiting.get(data.id ?? -1)
    if (!asker) return
    waiting.delete(data.id!)
    if (data.answer === undefined) asker.reject(new Error(data.failed))
    else asker.resolve(JSON.parse(data.answer) as Answer)
  }
  worker.onerror = () => giveUp('The core cannot be started here.')
}

/** The worker goes, and whoever waits for it hears of it. */
function giveUp(why: string) {
  worker?.terminate()
  worker = undefined
  ready.value = false
  for (const { reject } of waiting.values()) reject(new Error(why))
  waiting.clear()
}

/** Fetches what an open run needs to be carried on, while there is a network. */
export async function prepare(run: Run) {
  const { id } = run.summary
  if (run.outcome.status !== 'open') return
  whenIdle(load, 3000) // what people wait for comes first
  if (plans.has(id)) return
  const plan = await ask(api.GET('/runs/{id}/plan', { params: { path: { id } } })).catch(() => undefined)
  if (plan) plans.set(id, plan)
}

/** Whether a run can be carried on here. */
export const canCarryOn = (id: string) => ready.value && plans.has(id)

/** Asks the core of a run with facts that are not on record yet. What is wrong with the last one is a
 * ProblemError. */
async function askCore(run: Run, stated: NewFact[], by: string, askedBy = '') {
  const { id, begun } = run.summary
  const at = now().toISOString()
  const facts = run.facts.map((line) => line.fact)
  const question = {
    plan: plans.get(id),
    begun,
    facts,
    stated: stated.map((fact) => ({ at, ...fact })),
    by,
    now: at,
    asked: askedBy,
    hides: run.hides ?? {},
  }
  const answered = await new Promise<Answer>((resolve, reject) => {
    const mine = ++asked
    waiting.set(mine, { resolve, reject })
    setTimeout(() => waiting.has(mine) && giveUp('It takes too long to work out here.'), answerWithin)
    worker?.postMessage({ id: mine, question: JSON.stringify(question) })
  })
  const { answer, problems = [], failed } = answered
  const [first] = problems
  if (first) throw new ProblemError(422, first.reason, new Map(problems.map((p) => [p.field, p.reason])))
  if (!answer) throw new Error(failed)
  return answer
}

/** The run with them. */
export async function carryOn(run: Run, stated: NewFact[], by: string): Promise<Run> {
  const { outcome, lines } = await askCore(run, stated, by)
  return { ...run, outcome, facts: [...run.facts, ...lines] }
}

/** The field that took a fact, of a run that is carried on already. */
export async function askedAhead(run: Run, fact: string): Promise<Step | undefined> {
  return (await askCore(run, [], '', fact)).step
}
