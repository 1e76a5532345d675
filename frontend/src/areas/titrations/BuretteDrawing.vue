<script setup lang="ts">
import { computed } from 'vue'

/** The burette to scale with its meniscus, and a window that shows the marks around it. */
const props = defineProps<{
  scale: number
  division: number
  from: number
  to: number
  expected: number
  dark: boolean
  /** The scale shows what is left, as on a syringe. */
  left?: boolean
}>()
const shown = (mL: number) => (props.left ? props.scale - mL : mL)
const top = 14
const height = 260
const y = (mL: number) => top + (Math.min(Math.max(mL, 0), props.scale) / props.scale) * height
const marks = computed(() => Array.from({ length: 11 }, (_, i) => (i * props.scale) / 10))

/** The window: half a dozen divisions around the meniscus. */
const span = computed(() => 6 * props.division)
const first = computed(() => Math.max(0, Math.min(props.scale - span.value, props.to - span.value / 2)))
const window = { top: 36, height: 190, left: 128, width: 118 }
const near = (mL: number) => window.top + ((mL - first.value) / span.value) * window.height
const lines = computed(() => {
  const list: { mL: number; long: boolean }[] = []
  for (
    let k = Math.ceil(first.value / props.division - 1e-6);
    k * props.division <= first.value + span.value + 1e-9;
    k++
  )
    list.push({ mL: k * props.division, long: k % 10 === 0 || k % 5 === 0 })
  return list
})
const label = (mL: number) => shown(mL).toFixed(props.division < 0.1 ? 2 : 1)
const name = computed(() => `${props.left ? 'Syringe' : 'Burette'} at ${shown(props.to).toFixed(2)} mL`)
const meniscus = computed(() => {
  if (props.left) return 'edge of the plunger'
  return props.dark ? 'top edge, both times' : 'bottom of the meniscus'
})
</script>

<template>
  <svg viewBox="0 0 270 296" role="img" :aria-label="name" :class="{ dark }">
    <rect x="46" :y="y(to)" width="26" :height="y(scale) - y(to)" class="liquid" />
    <rect v-if="to > from" x="46" :y="y(from)" width="26" :height="y(to) - y(from)" class="given" />
    <path :d="`M46 4V${y(scale) + 6}l10 10h6l10-10V4`" class="glass" />
    <g v-for="m in marks" :key="m">
      <line x1="46" x2="58" :y1="y(m)" :y2="y(m)" class="mark" />
      <text x="40" :y="y(m) + 4" text-anchor="end">{{ Number(shown(m).toPrecision(3)) }}</text>
    </g>
    <g v-if="expected > 0 && expected <= scale">
      <line x1="72" x2="90" :y1="y(expected)" :y2="y(expected)" class="expected" />
      <line :x1="window.left" :x2="window.left + 18" y1="258" y2="258" class="expected" />
      <text :x="window.left + 24" y="262" class="small">about the end</text>
    </g>
    <path
      :d="`M76 ${y(to)}L${window.left} ${window.top}M76 ${y(to)}L${window.left} ${window.top + window.height}`"
      class="ray"
    />
    <svg
      :x="window.left"
      :y="window.top"
      :width="window.width"
      :height="window.height"
      :viewBox="`${window.left} ${window.top} ${window.width} ${window.height}`"
    >
      <rect :x="window.left" :y="window.top" :width="window.width" :height="window.height" class="lens" />
      <path
        :d="`M${window.left + 44} ${near(to) - 9}Q${window.left + 81} ${near(to) + 9} ${window.left + window.width} ${near(to) - 9}V${window.top + window.height}H${window.left + 44}Z`"
        class="liquid"
      />
      <g v-for="l in lines" :key="l.mL">
        <line
          :x1="window.left + 44"
          :x2="window.left + (l.long ? 84 : 66)"
          :y1="near(l.mL)"
          :y2="near(l.mL)"
          class="mark"
        />
        <text :x="window.left + 40" :y="near(l.mL) + 4" text-anchor="end">{{ label(l.mL) }}</text>
      </g>
      <line
        :x1="window.left + 44"
        :x2="window.left + window.width"
        :y1="near(to) - (dark ? 9 : 0)"
        :y2="near(to) - (dark ? 9 : 0)"
        class="eye"
      />
    </svg>
    <rect :x="window.left" :y="window.top" :width="window.width" :height="window.height" class="frame" />
    <text :x="window.left" :y="window.top + window.height + 16" class="small">
      {{ meniscus }}
    </text>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 20rem;
  font: 10px var(--mono);
  fill: var(--ink-soft);
}
.glass,
.frame {
  fill: none;
  stroke: var(--glass);
  stroke-width: 1.5;
}
.lens {
  fill: var(--sheet);
}
.mark {
  stroke: var(--ink-soft);
}
.liquid {
  fill: var(--liquid);
}
.dark .liquid {
  fill: #8a5a94;
}
.given {
  fill: var(--sheet);
  stroke: var(--green);
  stroke-dasharray: 3 2;
}
.expected {
  stroke: var(--amber);
  stroke-width: 2;
}
.eye {
  stroke: var(--red);
  stroke-dasharray: 4 3;
}
.ray {
  stroke: var(--line-strong);
  stroke-dasharray: 1 3;
  fill: none;
}
.small {
  font-family: var(--text);
}
</style>
