<script setup lang="ts">
import { computed } from 'vue'
import type { LabMeter } from '@/api/client'
import XYPlot from '@/design/XYPlot.vue'

/** How well a pH is known under the calibration that holds, over the scale. */
const props = defineProps<{ meter: LabMeter }>()
const span = computed(() => {
  const { low, high } = props.meter.newest!
  return high > low ? [{ axis: 'x' as const, from: low, to: high, words: 'its buffers' }] : []
})
const most = computed(() => 1.1 * Math.max(...props.meter.reach!.known.map((k) => k.limits)))
</script>

<template>
  <h3>How well a pH is known</h3>
  <XYPlot
    label="How well a pH is known over the scale"
    :x="{ from: 0, to: 14, words: 'pH' }"
    :y="{ from: 0, to: most, words: '± pH' }"
    :bands="span"
    :lines="[{ points: meter.reach!.known.map((k) => [k.pH, k.limits]) }]"
    :rules="meter.newest!.points.map((pH) => ({ axis: 'x', at: pH, as: 'plain' }))"
    :ratio="0.5"
    :least="150"
    :most="220"
  />
  <p>{{ meter.reach!.says }}</p>
</template>
