<script setup lang="ts">
import { computed } from 'vue'
import type { CapacityView } from '@/api/client'

/** pH against what was added: theory as lines, the readings on them, water beside. */
const props = defineProps<{ beakers: CapacityView['beakers'] }>()
const width = 330
const height = 210
const left = 34
const bottom = 34
const top = 10
const farthest = computed(() => Math.max(0.1, ...props.beakers.flatMap((b) => b.curve.added ?? [])))
const all = computed(() => props.beakers.flatMap((b) => [...(b.curve.pH ?? []), ...b.rows.map((r) => r.value)]))
const low = computed(() => Math.floor(Math.min(6, ...all.value)))
const high = computed(() => Math.ceil(Math.max(8, ...all.value)))
const x = (mL: number) => left + ((width - left - 10) * mL) / farthest.value
const y = (pH: number) => top + ((height - top - bottom) * (high.value - pH)) / (high.value - low.value)
const marks = computed(() =>
  Array.from({ length: high.value - low.value + 1 }, (_, i) => low.value + i).filter(
    (pH) => high.value - low.value < 7 || pH % 2 === 0,
  ),
)
const ticks = computed(() => [0, 0.25, 0.5, 0.75, 1].map((f) => f * farthest.value))
const path = (b: CapacityView['beakers'][number]) =>
  (b.curve.added ?? []).map((v, i) => `${i ? 'L' : 'M'}${x(v).toFixed(1)} ${y(b.curve.pH![i]!).toFixed(1)}`).join('')
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" aria-label="pH against what was added">
      <g v-for="pH in marks" :key="pH">
        <line :x1="left" :x2="width - 10" :y1="y(pH)" :y2="y(pH)" class="grid" />
        <text :x="left - 6" :y="y(pH) + 4" text-anchor="end">{{ pH }}</text>
      </g>
      <text v-for="v in ticks" :key="v" :x="x(v)" :y="height - bottom + 14" text-anchor="middle">
        {{ Number(v.toPrecision(2)) }}
      </text>
      <text :x="width - 10" :y="height - 3" text-anchor="end" class="words">mL added</text>
      <text x="0" :y="height - 3" class="words">pH</text>
      <g v-for="b in beakers" :key="b.name" :class="{ water: b.water, acid: b.acid }">
        <path :d="path(b)" class="curve" />
        <template v-for="(r, i) in b.rows" :key="i">
          <circle v-if="!b.water" :cx="x(r.mL)" :cy="y(r.value)" r="4" class="point" />
          <rect v-else :x="x(r.mL) - 3" :y="y(r.value) - 3" width="6" height="6" class="point" />
        </template>
      </g>
    </svg>
    <figcaption class="small soft">
      Lines: theory, dotted of water. Rings: the buffer as read; squares: the water.
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
<style scoped>
.acid .curve,
.acid .point {
  stroke: var(--amber);
}
.water .curve {
  stroke-dasharray: 1.5 3;
}
</style>
