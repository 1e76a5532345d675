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
  /** Of a probe: what its reading is under the present calibration, by how much it may
   * move (mV), and where it is going. */
  pH?: string
  band?: number
  /** How much of the time was seen that it takes to tell whether it stands. */
  watched?: string
  predicted?: { mV: number; text: string; wait: number; settling: number }
}

/** An instrument that is connected. */
export interface Connected {
  id: string
  name: string
  of: 'balances' | 'meters' | 'photometers'
}

const unreachable: LiveReading = {
  text: '',
  readings: [],
  state: 'lost',
  still: false,
  says: 'The server does not answer: the reading comes back by itself. Type it meanwhile.',
  standin: false,
}

/** The instrument that the step at hand reads, when it is connected. */
export const useLive = defineStore('live', () => {
  const instrument = ref<Connected>()
  const reading = ref<LiveReading>()
  /** The main quantity, for drawings. */
  const value = computed(() => reading.value?.readings[0]?.value)
  let source: EventSource | undefined

  function open({ id, of }: Connected) {
    source = new EventSource(`/api/v1/${of}/${id}/live`)
    source.addEventListener(
      'reading',
      (event) => (reading.value = JSON.parse((event as MessageEvent<string>).data) as LiveReading),
    )
    source.addEventListener('error', () => {
      reading.value = unreachable
      if (source?.readyState !== EventSource.CLOSED) return
      source = undefined // a refused stream does not come back by itself
      setTimeout(() => {
        if (!source && instrument.value?.id === id) open({ ...instrument.value })
      }, 3000)
    })
  }

  function close() {
    source?.close()
    source = undefined
    reading.value = undefined
  }

  /** Watches an instrument, or another, or none, as long as the component is there. */
  function follow(which: Ref<Connected | undefined>) {
    watch(
      () => which.value?.id,
      () => {
        close()
        instrument.value = which.value
        if (which.value) open(which.value)
      },
      { immediate: true },
    )
    onScopeDispose(() => {
      close()
      instrument.value = undefined
    })
  }

  return { instrument, reading, value, follow }
})
