<script setup lang="ts">
import { computed } from 'vue'
import type { CurveAnswer } from '@/api/client'

/** The pH as it is predicted, with the band in which the indicator that serves best turns. */
const props = defineProps<{ curve: CurveAnswer }>()
const width = 330
const height = 210
const left = 30
const bottom = 30
const top = 8
const farthest = computed(() => Math.max(...props.curve.points.map((p) => p.volume)))
const x = (mL: number) => left + ((width - left - 8) * mL) / farthest.value
const y = (pH: number) => top + ((height - top - bottom) * (14 - pH)) / 14
const path = computed(() =>
  props.curve.points.map((p, i) => `${i ? 'L' : 'M'}${x(p.volume).toFixed(1)} ${y(p.pH).toFixed(1)}`).join(''),
)
const bands = computed(() =>
  props.curve.equivalences.flatMap((e) => (e.indicators[0] ? [{ ...e.indicators[0], volume: e.volume }] : [])),
)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" aria-label="pH against what is added, as predicted">
      <g v-for="pH in [0, 2, 4, 6, 8, 10, 12, 14]" :key="pH">
        <line :x1="left" :x2="width - 8" :y1="y(pH)" :y2="y(pH)" class="grid" />
        <text :x="left - 6" :y="y(pH) + 4" text-anchor="end">{{ pH }}</text>
      </g>
      <g v-for="b in bands" :key="b.volume">
        <rect
          v-for="(colour, i) in b.colours"
          :key="i"
          :x="left"
          :width="width - left - 8"
          :y="y(b.to) + ((4 - i) * (y(b.from) - y(b.to))) / 5"
          :height="(y(b.from) - y(b.to)) / 5"
          :fill="colour"
          opacity="0.45"
        />
      </g>
      <path :d="path" class="curve" />
      <g v-for="e in curve.equivalences" :key="e.volume">
        <line :x1="x(e.volume)" :x2="x(e.volume)" :y1="y(0)" :y2="y(14)" class="end" />
        <text :x="x(e.volume)" :y="height - 16" text-anchor="middle">{{ e.volume.toFixed(1) }}</text>
      </g>
      <text :x="width - 8" :y="height - 3" text-anchor="end" class="words">mL added</text>
      <text x="0" :y="height - 3" class="words">pH</text>
    </svg>
    <figcaption class="small soft">
      As predicted.
      <template v-for="b in bands" :key="b.volume"
        >Band: {{ b.name }}, {{ b.words[0] }} to {{ b.words.at(-1) }}, pH {{ b.from.toFixed(1) }} to
        {{ b.to.toFixed(1) }}.
      </template>
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
<style scoped>
.end {
  stroke: var(--amber);
  stroke-dasharray: 4 3;
}
</style>
