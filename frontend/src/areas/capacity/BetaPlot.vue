<script setup lang="ts">
import { computed } from 'vue'
import type { CapacityView } from '@/api/client'
import XYPlot from '@/design/XYPlot.vue'

/** The capacity that each step gave, with its uncertainty, on the curve of theory; in mmol/L per pH. */
const props = defineProps<{ beakers: CapacityView['beakers'] }>()
const buffers = computed(() => props.beakers.filter((b) => !b.water))
const points = computed(() => buffers.value.flatMap((b) => b.rows.filter((r) => r.b > 0)))
const low = computed(() => Math.floor(2 * Math.min(...points.value.map((p) => p.middle)) - 0.6) / 2)
const high = computed(() => Math.ceil(2 * Math.max(...points.value.map((p) => p.middle)) + 0.6) / 2)
const theory = computed(() =>
  buffers.value
    .flatMap((b) => (b.curve.pH ?? []).map((pH, i) => [pH, 1000 * b.curve.beta![i]!] as const))
    .sort((a, b) => a[0] - b[0])
    .filter(([pH]) => pH >= low.value && pH <= high.value),
)
const most = computed(
  () => 1.1 * Math.max(...points.value.map((p) => 1000 * (p.b + p.uB)), ...theory.value.map((t) => t[1])),
)
</script>

<template>
  <figure v-if="points.length > 1">
    <XYPlot
      label="Buffer capacity of each step, on theory"
      :x="{ from: low, to: high, words: 'pH' }"
      :y="{ from: 0, to: most, words: 'β, mmol/L per pH' }"
      :lines="[{ points: theory }]"
      :marks="points.map((p) => ({ at: [p.middle, 1000 * p.b], u: 1000 * p.uB }))"
      :ratio="0.5"
    />
    <figcaption class="small soft">Rings: the capacity of each step, ± U (k = 2); line: theory.</figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
