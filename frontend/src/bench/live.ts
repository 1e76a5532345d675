import { defineStore } from 'pinia'
import { onScopeDispose, ref, watch, type Ref } from 'vue'
import type { Verdict } from '@/api/client'

/** What a connected balance shows now. */
export interface LiveReading {
  text: string
  grams: number
  state: 'stable' | 'moving' | 'overload' | 'underload' | 'lost'
  still: boolean
  spread: number
  says?: string
  standin: boolean
  verdict?: Verdict
}

const unreachable: LiveReading = {
  text: '',
  grams: 0,
  state: 'lost',
  still: false,
  spread: 0,
  says: 'The server does not answer: the reading comes back by itself. Type it meanwhile.',
  standin: false,
}

/** The balance that the run at hand is weighed on, when it is connected. */
export const useLive = defineStore('live', () => {
  const balance = ref<{ id: string; name: string }>()
  const reading = ref<LiveReading>()
  let source: EventSource | undefined

  function open(id: string) {
    source = new EventSource(`/api/v1/balances/${id}/live`)
    source.addEventListener(
      'reading',
      (event) => (reading.value = JSON.parse((event as MessageEvent<string>).data) as LiveReading),
    )
    source.addEventListener('error', () => {
      reading.value = unreachable
      if (source?.readyState !== EventSource.CLOSED) return
      source = undefined // a refused stream does not come back by itself
      setTimeout(() => {
        if (!source && balance.value?.id === id) open(id)
      }, 3000)
    })
  }

  function close() {
    source?.close()
    source = undefined
    reading.value = undefined
  }

  /** Watches a balance, or another, or none, as long as the component is there. */
  function follow(which: Ref<{ id: string; name: string } | undefined>) {
    watch(
      () => which.value?.id,
      (id) => {
        close()
        balance.value = which.value
        if (id) open(id)
      },
      { immediate: true },
    )
    onScopeDispose(() => {
      close()
      balance.value = undefined
    })
  }

  return { balance, reading, follow }
})
