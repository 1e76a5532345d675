<script setup lang="ts">
/** The span of a calibration on the pH scale, with its buffers. */
defineProps<{ low: number; high: number; points: number[] }>()
const width = 260
const x = (pH: number) => 8 + ((width - 16) * pH) / 14
</script>

<template>
  <svg
    :viewBox="`0 0 ${width} 34`"
    role="img"
    :aria-label="`Calibrated from pH ${low.toFixed(2)} to ${high.toFixed(2)}`"
  >
    <rect :x="x(low)" y="4" :width="Math.max(2, x(high) - x(low))" height="10" class="span" />
    <line :x1="x(0)" :x2="x(14)" y1="14" y2="14" />
    <g v-for="pH in [0, 2, 4, 6, 8, 10, 12, 14]" :key="pH">
      <line :x1="x(pH)" :x2="x(pH)" y1="14" y2="18" />
      <text :x="x(pH)" y="30" text-anchor="middle">{{ pH }}</text>
    </g>
    <circle v-for="pH in points" :key="pH" :cx="x(pH)" cy="9" r="4" />
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 20rem;
}
line {
  stroke: var(--line-strong);
}
text {
  font-family: var(--mono);
  font-size: 10px;
  fill: var(--ink-soft);
}
.span {
  fill: #b9d8ca;
}
circle {
  fill: var(--green-deep);
}
</style>
