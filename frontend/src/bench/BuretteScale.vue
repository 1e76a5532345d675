<script setup lang="ts">
import { figure } from '@/api/figures'
import { computed } from 'vue'

/** The scale of a burette or pipette, running downward, with the readings typed so far. */
const props = defineProps<{ scale: number; before: string; after: string }>()
const number = (text: string) => {
  const x = figure(text.replace(/[^\d.,-].*$/, ''))
  return Number.isNaN(x) || x < 0 || x > props.scale ? undefined : x
}
const height = 150
const y = (mL: number) => 8 + (mL / props.scale) * height
const marks = computed(() => Array.from({ length: 11 }, (_, i) => (i * props.scale) / 10))
const from = computed(() => number(props.before))
const to = computed(() => number(props.after))
</script>

<template>
  <svg class="burette" viewBox="0 0 92 168" aria-hidden="true">
    <rect v-if="from !== undefined" x="30" :y="y(from)" width="16" :height="y(scale) - y(from)" class="liquid" />
    <rect
      v-if="from !== undefined && to !== undefined && to > from"
      x="30"
      :y="y(from)"
      width="16"
      :height="y(to) - y(from)"
      class="given"
    />
    <path :d="`M30 2V${y(scale) + 6}h16V2`" class="glass" />
    <g v-for="m in marks" :key="m">
      <line x1="30" x2="38" :y1="y(m)" :y2="y(m)" class="mark" />
      <text x="26" :y="y(m) + 3" text-anchor="end">{{ Number(m.toPrecision(3)) }}</text>
    </g>
    <text v-if="from !== undefined" x="50" :y="y(from) + 3" class="now">{{ before }}</text>
    <text v-if="to !== undefined" x="50" :y="y(to) + 3" class="now">{{ after }}</text>
  </svg>
</template>

<style scoped>
.burette {
  height: 11rem;
  font: 8.5px var(--mono);
  fill: var(--ink-soft);
}
.glass {
  fill: none;
  stroke: var(--glass);
  stroke-width: 1.5;
}
.mark {
  stroke: var(--glass);
}
.liquid {
  fill: var(--liquid);
}
.given {
  fill: var(--sheet);
  stroke: var(--green);
  stroke-dasharray: 3 2;
}
.now {
  fill: var(--ink);
  font-weight: 700;
}
</style>
