<script setup lang="ts">
import { computed } from 'vue'
import type { Standardised } from '@/api/client'
import { when } from '@/design/time'

/** How strong a bottle was found, one time after the other, with U (k = 2). */
const props = defineProps<{ list: Standardised[] }>()
const points = computed(() => [...props.list].reverse())
const low = computed(() => Math.min(...props.list.map((s) => s.c - (s.u ?? 0))))
const high = computed(() => Math.max(...props.list.map((s) => s.c + (s.u ?? 0))))
const width = 300
const height = 90
const x = (i: number) => 20 + (i * (width - 40)) / Math.max(1, points.value.length - 1)
const y = (c: number) => 8 + ((high.value - c) / Math.max(1e-12, high.value - low.value)) * (height - 16)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" aria-label="Concentration from one standardisation to the next">
      <polyline :points="points.map((s, i) => `${x(i)},${y(s.c)}`).join(' ')" class="line" />
      <g v-for="(s, i) in points" :key="s.run">
        <line :x1="x(i)" :x2="x(i)" :y1="y(s.c - (s.u ?? 0))" :y2="y(s.c + (s.u ?? 0))" class="bar" />
        <circle :cx="x(i)" :cy="y(s.c)" r="4" class="point" />
      </g>
    </svg>
    <figcaption class="small soft">
      <span v-for="s in points" :key="s.run"
        >{{ when(s.at) }}: <span class="figure">{{ s.text }}</span>.
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0 0 1rem;
  max-width: 26rem;
}
.line {
  fill: none;
  stroke: var(--line-strong);
}
.bar {
  stroke: var(--ink);
}
.point {
  fill: var(--sheet);
  stroke: var(--green);
  stroke-width: 2;
}
</style>
