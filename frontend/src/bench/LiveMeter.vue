<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue'
import './live.css'
import type { NewFact } from '@/api/client'
import { vFirst } from './first'
import { useLive } from './live'
import LiveState from './LiveState.vue'
import { useTaking } from './useTaking'
import VerdictLine from './VerdictLine.vue'

/** What the connected pH meter shows, with its trace of the last minute: taken with Enter
 * once it has settled. Taken before that it asks first. */
type Taken = Pick<NewFact, 'quantity' | 'beside' | 'spread' | 'instrument'>

defineProps<{ busy?: boolean; autofocus?: boolean }>()
const emit = defineEmits<{ take: [reading: Taken]; type: [] }>()
const live = useLive()
const button = useTemplateRef<{ ref: HTMLElement }>('button')
const { asking, offer, choose } = useTaking(
  (taken) => emit('take', taken),
  () => focus(),
)

const seconds = 60
const trace = ref<{ at: number; mV: number }[]>([])
const reading = computed(() => live.reading)
watch(reading, (now) => {
  const mV = now?.readings[0]?.value
  if (mV === undefined) {
    trace.value = []
    return
  }
  const at = performance.now() / 1000
  trace.value = [...trace.value.filter((p) => p.at > at - seconds), { at, mV }]
})

const width = 330
const height = 96
/** The scale of the drawing: what was seen and what is predicted, at least a few mV high. */
const scale = computed(() => {
  const list = trace.value.map((p) => p.mV)
  const predicted = reading.value?.predicted?.mV
  if (predicted !== undefined) list.push(predicted)
  const low = Math.min(...list)
  const high = Math.max(...list)
  const room = Math.max(2, 0.08 * (high - low))
  return { low: low - room, high: high + room }
})
const y = (mV: number) => height * (1 - (mV - scale.value.low) / (scale.value.high - scale.value.low))
const line = computed(() => {
  const now = trace.value.at(-1)?.at ?? 0
  return trace.value.map((p) => `${((1 + (p.at - now) / seconds) * width).toFixed(1)},${y(p.mV).toFixed(1)}`).join(' ')
})
const band = computed(() => {
  const last = trace.value.at(-1)
  const half = (reading.value?.band ?? 0) / 2
  if (!last || half === 0) return undefined
  const top = y(last.mV + half)
  return { top, tall: Math.max(2, y(last.mV - half) - top) }
})

const temperature = computed(() => reading.value?.readings.find((q) => q.unit === '°C'))
const state = computed(() => {
  const now = reading.value
  if (!now) return 'connecting…'
  if (now.state === 'lost') return 'no reading'
  if (now.watched) return `watched ${now.watched}`
  return now.still ? 'has settled' : 'still moves'
})
const predicted = computed(() => {
  const now = reading.value?.predicted
  if (!now || reading.value?.still) return ''
  const wait = now.wait < 1 ? 'now' : now.wait > 600 ? 'not within ten minutes' : `in about ${Math.ceil(now.wait)} s`
  return `goes to ${now.text}, settled ${wait}`
})

function press() {
  const now = reading.value
  if (!now?.text) return emit('type')
  const beside: NonNullable<Taken['beside']> = []
  if (temperature.value) beside.push({ value: temperature.value.value, unit: '°C' })
  if (now.predicted && now.predicted.settling > 0)
    beside.push({ value: Number(now.predicted.settling.toFixed(1)), unit: 's' })
  offer({ quantity: { text: now.text }, beside, instrument: live.instrument?.name })
}
const focus = () => button.value?.ref.focus()
defineExpose({ focus })
</script>

<template>
  <div v-first="autofocus" class="live" role="group" :aria-label="`pH meter ${live.instrument?.name}`">
    <p class="small soft">
      {{ live.instrument?.name }} shows <span v-if="reading?.standin">(a stand-in, simulated)</span>
    </p>
    <div class="line">
      <output class="figure value" :class="{ moving: !reading?.still }" aria-live="off">{{
        reading?.text.replace(' ', '\u202f') || '– – –'
      }}</output>
      <span v-if="temperature" class="figure beside">{{ temperature.value.toFixed(1) }}&#8239;°C</span>
      <span v-if="reading?.pH" class="figure beside">{{ reading.pH }}</span>
    </div>
    <div class="line">
      <svg class="trace" :viewBox="`0 0 ${width} ${height}`" role="img" aria-label="Trace of the last minute">
        <rect v-if="band" x="0" :y="band.top" :width="width" :height="band.tall" class="band" />
        <line
          v-if="reading?.predicted && !reading.still"
          x1="0"
          :x2="width"
          :y1="y(reading.predicted.mV)"
          :y2="y(reading.predicted.mV)"
          class="goal"
        />
        <polyline :points="line" />
      </svg>
      <div>
        <LiveState :still="reading?.still" :word="state" />
        <p class="small soft predicted">{{ predicted }}</p>
        <el-button ref="button" type="primary" :disabled="busy" @click="press">Take it <kbd>Enter</kbd></el-button>
      </div>
    </div>
    <p v-if="reading?.says" class="problem small" role="alert">{{ reading.says }}</p>
    <VerdictLine v-if="asking" :verdict="asking.verdict" autofocus @choose="choose" />
  </div>
</template>

<style scoped>
.value {
  min-width: 10ch;
}
.beside {
  font-size: 1.3rem;
}
.trace {
  width: 20rem;
  max-width: 100%;
  background: var(--paper);
  border: 1px solid var(--line);
}
.trace polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
.band {
  fill: var(--green-tint);
}
.goal {
  stroke: var(--amber);
  stroke-width: 1.5;
  stroke-dasharray: 6 4;
}
.predicted {
  min-height: 1.4em;
}
</style>
