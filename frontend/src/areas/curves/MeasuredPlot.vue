<script setup lang="ts">
import { computed } from 'vue'
import type { CurveView } from '@/api/client'

/** The readings on the curve that was predicted and the one that fits; under it the slope, and
 * what is left over. */
const props = defineProps<{ view: CurveView }>()
const width = 330
const height = 230
const left = 30
const bottom = 30
const top = 8
const farthest = computed(() =>
  Math.max(1, ...props.view.predicted.map((p) => p.volume), ...props.view.readings.map((p) => p.volume)),
)
const x = (mL: number) => left + ((width - left - 8) * mL) / farthest.value
const y = (pH: number) => top + ((height - top - bottom) * (14 - pH)) / 14
const path = (points: { volume: number; pH: number }[]) =>
  points.map((p, i) => `${i ? 'L' : 'M'}${x(p.volume).toFixed(1)} ${y(p.pH).toFixed(1)}`).join('')
const ticks = computed(() => [0, 0.25, 0.5, 0.75, 1].map((f) => f * farthest.value))

const low = 70 // height of the plots below
const steepest = computed(() => Math.max(0.1, ...(props.view.slopes ?? []).map((s) => Math.abs(s.first))))
const slope = (s: number) => low - 4 - ((low - 10) * Math.abs(s)) / steepest.value
const widest = computed(() => Math.max(0.03, ...props.view.residuals.map((r) => Math.abs(r.pH))))
const rest = (r: number) => low / 2 - ((low / 2 - 6) * r) / widest.value
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" aria-label="pH against what was added">
      <g v-for="pH in [0, 2, 4, 6, 8, 10, 12, 14]" :key="pH">
        <line :x1="left" :x2="width - 8" :y1="y(pH)" :y2="y(pH)" class="grid" />
        <text :x="left - 6" :y="y(pH) + 4" text-anchor="end">{{ pH }}</text>
      </g>
      <text v-for="v in ticks" :key="v" :x="x(v)" :y="height - 16" text-anchor="middle">
        {{ Number(v.toPrecision(2)) }}
      </text>
      <path :d="path(view.predicted)" class="predicted" />
      <path v-if="view.fitted.length" :d="path(view.fitted)" class="curve" />
      <g v-for="e in view.endPoints" :key="e.volume">
        <line :x1="x(e.volume)" :x2="x(e.volume)" :y1="y(0)" :y2="y(14)" class="end" />
      </g>
      <circle v-for="(p, i) in view.readings" :key="i" :cx="x(p.volume)" :cy="y(p.pH)" r="3" class="point" />
      <rect
        v-for="h in view.halves"
        :key="h.volume"
        :x="x(h.volume) - 4"
        :y="y(h.pH) - 4"
        width="8"
        height="8"
        class="half"
      />
      <text :x="width - 8" :y="height - 3" text-anchor="end" class="words">mL added</text>
      <text x="0" :y="height - 3" class="words">pH</text>
    </svg>
    <svg v-if="view.slopes?.length" :viewBox="`0 0 ${width} ${low}`" role="img" aria-label="Slope of the curve">
      <polyline
        :points="view.slopes.map((s) => `${x(s.volume).toFixed(1)},${slope(s.first).toFixed(1)}`).join(' ')"
        class="curve"
      />
      <text x="0" y="12" class="words">ΔpH/mL</text>
    </svg>
    <svg v-if="view.residuals.length" :viewBox="`0 0 ${width} ${low}`" role="img" aria-label="What the fit leaves over">
      <line :x1="left" :x2="width - 8" :y1="low / 2" :y2="low / 2" class="grid" />
      <circle v-for="(r, i) in view.residuals" :key="i" :cx="x(r.volume)" :cy="rest(r.pH)" r="2.4" class="point" />
      <text x="0" y="12" class="words">left over, ±{{ widest.toFixed(2) }} pH</text>
    </svg>
    <figcaption class="small soft">
      Rings: as read. Line: the balance fitted; dotted: as predicted. Dashes: where it is steepest; squares: half way.
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
<style scoped>
.predicted {
  fill: none;
  stroke: var(--ink-soft);
  stroke-dasharray: 1.5 3;
}
.end {
  stroke: var(--amber);
  stroke-dasharray: 4 3;
}
.half {
  fill: var(--amber);
}
</style>
