import { defineStore } from 'pinia'
import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'
import type { Verdict } from '@/api/client'

/** What a connected instrument shows now. */
export interface LiveReading {
  text: string
  /** The quantities shown, the main one first. */
  readings: { value: number; unit: string }[]
  state: 'stable' | 'moving' | 'overload' | 'underload' | 'lost'
  still: boolean
  /** How far it moved in the last moments. */
  spread?: { value: number; unit: string }
  says?: string
  standin: boolean
  verdict?: Verdict
}

const unreachable: LiveReading = {
  text: '',
  readings: [],
  state: 'lost',
  still: false,
  says: 'The server does not answer: the reading comes back by itself. Type it meanwhile.',
  standin: false,
}

/** The balance that the run at hand is weighed on, when it is connected. */
export const useLive = defineStore('live', () => {
  const balance = ref<{ id: string; name: string }>()
  const reading = ref<LiveReading>()
  /** The main quantity, for drawings. */
  const value = computed(() => reading.value?.readings[0]?.value)
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

  return { balance, reading, value, follow }
})
