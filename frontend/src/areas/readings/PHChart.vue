<script setup lang="ts">
import { computed } from 'vue'
import type { ReadingRow } from '@/api/client'

/** The samples of a log on one pH scale: a dot with its uncertainty for what the meter
 * read, a bar for a range that was seen. */
const props = defineProps<{ rows: ReadingRow[]; low: number; high: number }>()
const shown = computed(() => props.rows.filter((r) => !r.check && !r.refused))
const width = 300
const left = 96
const step = 18
/** Whole pH values around everything there is to show. */
const from = computed(() =>
  Math.max(0, Math.floor(Math.min(...shown.value.map((r) => r.pH.value - r.pH.expanded)) - 0.2)),
)
const to = computed(() =>
  Math.min(14, Math.ceil(Math.max(...shown.value.map((r) => r.pH.value + r.pH.expanded)) + 0.2)),
)
const x = (pH: number) =>
  left + ((width - left - 10) * (Math.min(to.value, Math.max(from.value, pH)) - from.value)) / (to.value - from.value)
const y = (i: number) => 12 + step * i
const bottom = computed(() => 8 + step * shown.value.length)
const marks = computed(() => Array.from({ length: to.value - from.value + 1 }, (_, i) => from.value + i))
const short = (name: string) => (name.length > 14 ? `${name.slice(0, 13)}…` : name)
</script>

<template>
  <svg
    v-if="shown.length > 1"
    :viewBox="`0 0 ${width} ${bottom + 22}`"
    role="img"
    aria-label="The samples on the pH scale"
  >
    <rect :x="x(low)" y="2" :width="Math.max(0, x(high) - x(low))" :height="bottom - 2" class="span" />
    <g v-for="pH in marks" :key="pH">
      <line :x1="x(pH)" :x2="x(pH)" y1="2" :y2="bottom" />
      <text :x="x(pH)" :y="bottom + 13" text-anchor="middle">{{ pH === from ? `pH ${pH}` : pH }}</text>
    </g>
    <g v-for="(row, i) in shown" :key="row.fact">
      <text :x="left - 8" :y="y(i) + 4" text-anchor="end" class="name">{{ short(row.sample) }}</text>
      <rect
        v-if="row.method"
        :x="x(row.pH.value - row.pH.expanded)"
        :y="y(i) - 4"
        :width="Math.max(3, x(row.pH.value + row.pH.expanded) - x(row.pH.value - row.pH.expanded))"
        height="8"
        class="range"
      />
      <template v-else>
        <line
          :x1="x(row.pH.value - row.pH.expanded)"
          :x2="x(row.pH.value + row.pH.expanded)"
          :y1="y(i)"
          :y2="y(i)"
          class="spread"
        />
        <circle :cx="x(row.pH.value)" :cy="y(i)" r="3.6" />
      </template>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 30rem;
  margin-bottom: 0.6rem;
}
line {
  stroke: var(--line);
}
.spread {
  stroke: var(--ink);
  stroke-width: 2;
}
.span {
  fill: var(--green-tint);
}
.range {
  fill: none;
  stroke: var(--ink-soft);
}
circle {
  fill: var(--green-deep);
}
text {
  font-family: var(--mono);
  font-size: 10px;
  fill: var(--ink-soft);
}
.name {
  font-family: var(--text);
  font-size: 11px;
  fill: var(--ink);
}
</style>
