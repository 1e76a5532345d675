import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import { canCarryOn, carryOn, prepare } from '@/ahead/ahead'
import { api, ask, ProblemError, sentence, type NewFact, type Run } from '@/api/client'
import { onChange } from '@/api/events'
import { newId } from '@/api/id'
import { latest } from '@/api/latest'
import { noConnection, useOutbox, wordsOf } from '@/api/outbox'
import { useSession } from '@/api/session'

/** The problems that the run sheet shows beside what caused them. */
const besideTheField = ['/quantity', '/after', '/count', '/date', '/kind', '/name', '/text', '/choice', '/beside/0']

/** Passes on what the rules refuse; anything else says nothing of the fact. */
function unlessRefused(error: unknown): undefined {
  if (error instanceof ProblemError) throw error
}

/** A run as it stands: as it is on record, or, while the network is down, with what is kept here as well. */
export function useRun(id: () => string, changed: () => void) {
  const outbox = useOutbox()
  const session = useSession()
  const onRecord = shallowRef<Run>()
  const carried = shallowRef<Run>()
  const run = computed(() => carried.value ?? onRecord.value)
  const trouble = ref('')
  const says = ref('')
  const problems = ref(new Map<string, string>())
  const about = ref('') // the fact that was to be replaced when they were found
  const busy = ref(false)
  /** What was kept here and is refused now that the network is back. */
  const refused = ref<string[]>([])

  /** What is kept on this device of this run. */
  const kept = computed(() => outbox.ofMine.filter((l) => l.runId === id()))
  const cutOff = () => kept.value.length > 0 && kept.value.every((l) => (l.trouble ?? noConnection) === noConnection)
  const initials = () => session.account?.initials ?? ''

  /** An answer that was under way before a fact was stated shows the run as it was. */
  const asked = latest()
  async function look() {
    const current = asked()
    try {
      const got = await ask(api.GET('/runs/{id}', { params: { path: { id: id() } } }))
      if (!current()) return
      onRecord.value = got
      trouble.value = ''
      changed()
      void prepare(got)
    } catch (error) {
      if (!carried.value) trouble.value = sentence(error)
    }
  }
  onMounted(look)
  watch(id, () => {
    carried.value = undefined
    refused.value = []
    void look()
  })
  onChange(
    [`run ${id()}`],
    (topic) => {
      const facts = Number(topic.split(' ')[2] ?? Infinity) // those that there are by now
      if (!busy.value && !(onRecord.value && onRecord.value.facts.length >= facts)) void look()
    },
    0,
  )

  /** The run with what is kept here, as far as the network is down. */
  async function ahead(): Promise<Run | undefined> {
    if (!onRecord.value || !cutOff() || !canCarryOn(id())) return undefined
    const facts = kept.value.map((l) => l.fact)
    if (isOf(carried.value, facts)) return carried.value
    return carryOn(onRecord.value, facts, initials())
  }
  /** Whether a run is what is on record with these facts, and no more. */
  function isOf(it: Run | undefined, facts: NewFact[]) {
    const lines = it?.facts.slice(onRecord.value?.facts.length ?? 0) ?? []
    return lines.length === facts.length && lines.length > 0 && lines.every((line, i) => line.fact.id === facts[i]!.id)
  }
  const going = latest()
  async function goOn() {
    const current = going()
    const now = await ahead().catch(() => undefined)
    // While something is stated, what it leads to is shown once that is over.
    if (current() && !busy.value) carried.value = now
  }
  watch([onRecord, kept], goOn)

  /** Resolves once a fact is kept here because there is no network, and the run can go on without it on record. */
  const isKept = (fact: string) =>
    new Promise<'kept'>((resolve) => {
      const stop = watch(
        kept,
        (letters) => {
          if (!letters.some((l) => l.fact.id === fact) || !cutOff() || !canCarryOn(id())) return
          void nextTick(() => stop())
          resolve('kept')
        },
        { immediate: true },
      )
    })

  function take(now: Run) {
    if (now.summary.id !== id()) return // another run is looked at by now
    onRecord.value = { ...now, since: 0, facts: [...(onRecord.value?.facts.slice(0, now.since) ?? []), ...now.facts] }
    changed()
  }

  async function state(fact: Omit<NewFact, 'id'>) {
    if (!onRecord.value || busy.value) return
    busy.value = true
    says.value = ''
    problems.value = new Map()
    refused.value = []
    about.value = fact.replaces ?? ''
    const stated: NewFact = { ...fact, id: newId(), seen: onRecord.value.facts.length + outbox.queued(id()).length }
    let here = true
    try {
      // What the rules refuse is not kept first; where that cannot be said here, it is.
      const facts = [...kept.value.map((l) => l.fact), stated]
      const checked = carried.value && (await carryOn(onRecord.value, facts, initials()).catch(unlessRefused))
      asked()
      const before = outbox
        .queued(id())
        .filter((l) => l.fact.kind !== 'note')
        .at(-1)?.fact.id
      const sent = outbox.send(id(), stated, before).then((now) => {
        take(now)
        if (here) busy.value = false // in one moment: what comes next takes the focus, and a disabled button takes none
      })
      sent.catch((error) => {
        if (here) return
        refused.value.push(`“${wordsOf(stated)}” was not taken: ${sentence(error)}`)
        void look()
      })
      if ((await Promise.race([sent, isKept(stated.id)])) !== 'kept') return
      here = false
      carried.value = checked ?? (await ahead())
      changed()
    } catch (error) {
      const letter = kept.value.find((l) => l.fact.id === stated.id)
      if (letter && error instanceof ProblemError) {
        here = true // refused by the rules, it goes nowhere
        outbox.discard(letter)
      }
      if (error instanceof ProblemError && error.status === 422) problems.value = error.fields
      const beside = [...problems.value.keys()].some((field) => besideTheField.includes(field))
      if (!beside || fact.replaces || fact.kind === 'note') says.value = sentence(error)
      if (error instanceof ProblemError && error.status === 409) await look()
    } finally {
      busy.value = false
      void goOn() // what came meanwhile
    }
  }

  /** Whether the run goes on here should the network go now. */
  const carries = computed(() => canCarryOn(id()))

  return { run, carried, carries, kept, trouble, says, problems, about, busy, refused, look, state }
}
