<script setup lang="ts">
import { computed } from 'vue'
import type { CapacityView } from '@/api/client'

/** The capacity that each step gave, with its uncertainty, on the curve of theory. */
const props = defineProps<{ beakers: CapacityView['beakers'] }>()
const width = 330
const height = 170
const left = 34
const bottom = 30
const top = 16
const buffers = computed(() => props.beakers.filter((b) => !b.water))
const points = computed(() => buffers.value.flatMap((b) => b.rows.filter((r) => r.b > 0)))
const theory = computed(() =>
  buffers.value
    .flatMap((b) => (b.curve.pH ?? []).map((pH, i) => ({ pH, beta: b.curve.beta![i]! })))
    .sort((a, b) => a.pH - b.pH)
    .filter((t) => t.pH >= low.value && t.pH <= high.value),
)
const low = computed(() => Math.floor(2 * Math.min(...points.value.map((p) => p.middle)) - 0.6) / 2)
const high = computed(() => Math.ceil(2 * Math.max(...points.value.map((p) => p.middle)) + 0.6) / 2)
const most = computed(() => 1.1 * Math.max(...points.value.map((p) => p.b + p.uB), ...theory.value.map((t) => t.beta)))
const x = (pH: number) => left + ((width - left - 10) * (pH - low.value)) / (high.value - low.value)
const y = (beta: number) => top + (height - top - bottom) * (1 - Math.max(0, beta) / most.value)
const marks = computed(() =>
  Array.from({ length: Math.round(2 * (high.value - low.value)) + 1 }, (_, i) => low.value + i / 2),
)
const step = computed(() => {
  const rough = (1000 * most.value) / 3
  const power = 10 ** Math.floor(Math.log10(rough))
  return [1, 2, 5, 10].map((s) => s * power).find((s) => s >= rough) ?? 10 * power
})
const levels = computed(() => [0, 1, 2, 3].map((i) => i * step.value).filter((v) => v / 1000 <= most.value))
const line = computed(() =>
  theory.value.map((t, i) => `${i ? 'L' : 'M'}${x(t.pH).toFixed(1)} ${y(t.beta).toFixed(1)}`).join(''),
)
</script>

<template>
  <figure v-if="points.length > 1">
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" aria-label="Buffer capacity of each step, on theory">
      <text x="0" :y="top - 5" class="words">β, mmol/L per pH</text>
      <g v-for="v in levels" :key="v">
        <line :x1="left" :x2="width - 10" :y1="y(v / 1000)" :y2="y(v / 1000)" class="grid" />
        <text :x="left - 6" :y="y(v / 1000) + 4" text-anchor="end">{{ Number(v.toPrecision(3)) }}</text>
      </g>
      <text v-for="pH in marks" :key="pH" :x="x(pH)" :y="height - bottom + 14" text-anchor="middle">{{ pH }}</text>
      <text x="0" :y="height - bottom + 14" class="words">pH</text>
      <path :d="line" class="curve" />
      <g v-for="(p, i) in points" :key="i">
        <line :x1="x(p.middle)" :x2="x(p.middle)" :y1="y(p.b - p.uB)" :y2="y(p.b + p.uB)" class="spread" />
        <circle :cx="x(p.middle)" :cy="y(p.b)" r="3.6" class="point" />
      </g>
    </svg>
    <figcaption class="small soft">Rings: the capacity of each step, ± U (k = 2); line: theory.</figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
<style scoped>
.spread {
  stroke: var(--ink-soft);
}
</style>
