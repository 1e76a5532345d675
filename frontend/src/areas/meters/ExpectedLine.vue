<script setup lang="ts">
import { computed } from 'vue'
import type { CalibrationDesign } from '@/api/client'
import VerdictLine from '@/bench/VerdictLine.vue'
import XYPlot from '@/design/XYPlot.vue'

/** What a good probe would show in the buffers, and how well a pH of the samples would be known then. */
const props = defineProps<{ design: CalibrationDesign; celsius: string; stale: boolean }>()
const emit = defineEmits<{ add: [key: string] }>()
const mV = (pH: number) => -props.design.slope * (pH - 7)
const samples = computed(() => {
  const { low, high } = props.design.request
  return high ? [{ axis: 'x' as const, from: Number(low ?? 0), to: Number(high), words: 'samples' }] : []
})
const axis = { from: 0, to: 14, words: 'pH' }
const most = computed(() => 1.1 * Math.max(...props.design.known.map((k) => k.limits)))
</script>

<template>
  <div :class="{ stale }">
    <XYPlot
      label="Line of a good probe, with the buffers on it"
      :x="axis"
      :y="{ from: -430, to: 430, words: 'mV' }"
      :bands="samples"
      :lines="[{ points: [0, 14].map((pH) => [pH, mV(pH)]), as: 'theory' }]"
      :marks="design.buffers.map((b) => ({ at: [Number(b.pH), b.mV], as: 'coming' }))"
      :rules="[{ axis: 'y', at: 0, as: 'plain' }]"
      :least="190"
    />
    <table class="plain">
      <thead>
        <tr>
          <th>Buffer</th>
          <th>pH at {{ celsius }} °C</th>
          <th>A good probe shows</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="b in design.buffers" :key="b.name">
          <td>{{ b.name }}</td>
          <td class="figure">{{ b.pH }}</td>
          <td class="figure">{{ b.text }}</td>
        </tr>
      </tbody>
    </table>
    <VerdictLine v-for="v in design.verdicts" :key="v.sentence" :verdict="v" />
    <h3>How well a pH would be known</h3>
    <XYPlot
      label="How well a pH would be known over the scale"
      :x="axis"
      :y="{ from: 0, to: most, words: '± pH' }"
      :bands="samples"
      :lines="[{ points: design.known.map((k) => [k.pH, k.limits]) }]"
      :ratio="0.4"
      :least="130"
      :most="180"
    />
    <p>{{ design.says }}</p>
    <p v-if="design.better">
      {{ design.better.says }}
      <el-button @click="emit('add', design.better.key)">Take it as well</el-button>
    </p>
    <p class="small soft">
      Theoretical slope <span class="figure">{{ design.nernst }}</span> for each pH. Values:
      {{ [...new Set(design.buffers.map((b) => b.source || 'what the bottle says'))].join('; ') }}.
    </p>
  </div>
</template>

<style scoped>
.stale {
  opacity: 0.55;
}
</style>
