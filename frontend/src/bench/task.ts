import { useSessionStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Plan, SessionBar } from '@/api/client'
import { kindOf, kinds } from './kinds'
import { handOver } from './useTyped'

interface AtHand {
  session: string
  /** The title of the session. */
  of: string
  task: string
  title: string
  kind: Plan['kind']
}

/** The task of a session that a question was opened for: the run that it begins does the task. */
export const useTask = defineStore('task', () => {
  const kept = useSessionStorage<AtHand | null>('vialbench-task', null, {
    serializer: { read: (text) => JSON.parse(text) as AtHand | null, write: JSON.stringify },
  })
  const router = useRouter()
  const atHand = computed(() => kept.value)

  const isKind = (name: string | undefined): name is Plan['kind'] => kinds.some((kind) => kind.name === name)

  /** Whether a task has a question of its own. */
  const asks = (bar: SessionBar) => isKind(bar.kind)

  /** Opens the question of a task, filled in as far as the plan knows it. */
  async function open(session: { id: string; title: string }, bar: SessionBar, fields: object) {
    if (!isKind(bar.kind)) return
    kept.value = { session: session.id, of: session.title, task: bar.id, title: bar.title, kind: bar.kind }
    handOver(bar.kind, fields)
    await router.push(kindOf(bar.kind).path)
  }
  /** What a new run says of the task that it does. */
  const of = (kind: Plan['kind']) =>
    atHand.value?.kind === kind
      ? { for: { session: atHand.value.session, task: atHand.value.task, title: atHand.value.title } }
      : {}
  function leave() {
    kept.value = null
  }

  return { atHand, asks, open, of, leave }
})
