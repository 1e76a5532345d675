<script setup lang="ts">
import { computed } from 'vue'
import type { Vessel } from '@/api/client'

/** The balance pan, or the glass a liquid is measured with: the band to aim at, the target, and the reading. */
const props = defineProps<{ vessel: Vessel; live?: number }>()
const width = 340

const view = computed(() => {
  const { low, high, target, reading } = props.vessel
  const half = (high - low) * 1.7
  const from = target - half
  const x = (mass: number) => Math.min(width - 6, Math.max(6, ((mass - from) / (2 * half)) * width))
  const at = reading === undefined ? undefined : x(reading)
  return {
    low: x(low),
    high: x(high),
    target: x(target),
    at,
    now: props.live === undefined ? undefined : x(props.live),
    beyond: reading === undefined ? '' : reading < from ? 'far under' : reading > target + half ? 'far over' : '',
    label: at === undefined ? 0 : Math.min(width - 78, Math.max(78, at)),
  }
})
/** The ends of the band, one digit short of what is read. */
const rough = (mass: number) => mass.toFixed(Math.max(0, props.vessel.decimals - 1))
</script>

<template>
  <figure class="pan">
    <figcaption class="small soft">{{ vessel.unit === 'g' ? 'On the pan' : `In the ${vessel.with}` }}</figcaption>
    <svg
      :viewBox="`0 0 ${width} 84`"
      role="img"
      :aria-label="`${vessel.with}: aim at ${vessel.target.toFixed(vessel.decimals)} ${vessel.unit}, between ${rough(vessel.low)} and ${rough(vessel.high)} ${vessel.unit}${vessel.reading === undefined ? '; nothing taken yet' : `; ${vessel.reading.toFixed(vessel.decimals)} ${vessel.unit} taken`}`"
    >
      <rect x="0" y="22" :width="width" height="26" class="off" />
      <rect :x="view.low" y="22" :width="view.high - view.low" height="26" class="band" />
      <path :d="`M${view.target} 52 l-6 10 h12 Z`" class="target" />
      <rect :x="view.target - 1.5" y="22" width="3" height="28" class="target" />
      <text :x="view.low - 4" y="76" text-anchor="middle" class="tick">{{ rough(vessel.low) }}</text>
      <text :x="view.high + 4" y="76" text-anchor="middle" class="tick">{{ rough(vessel.high) }}</text>
      <path v-if="view.now !== undefined" :d="`M${view.now} 22 l-5 -9 h10 Z`" class="now-mark" />
      <template v-if="view.at !== undefined">
        <rect :x="view.at - 1" y="16" width="2" height="38" class="reading" />
        <text :x="view.label" y="12" text-anchor="middle" class="now">
          {{ vessel.reading!.toFixed(vessel.decimals) }} {{ vessel.unit }}{{ view.beyond && `, ${view.beyond}` }}
        </text>
      </template>
    </svg>
  </figure>
</template>

<style scoped>
.now-mark {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.pan {
  margin: 0 0 0.5rem;
}
svg {
  width: 100%;
  max-width: 24rem;
  display: block;
  font-family: var(--mono);
}
.off {
  fill: #ece9e0;
}
.band {
  fill: #cde6da;
}
.target {
  fill: var(--green);
}
.reading {
  fill: var(--ink);
}
.tick {
  font-size: 12.5px;
  fill: var(--ink-soft);
}
.now {
  font-size: 13.5px;
  fill: var(--ink);
}
</style>
