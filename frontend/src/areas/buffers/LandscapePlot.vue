<script setup lang="ts">
import { computed, useId } from 'vue'
import type { BufferLandscape } from '@/api/client'
import FormulaText from '@/design/FormulaText.vue'

/** Buffer capacity against pH, with the target, the pKa and the useful range, and under it
 * which form the system has. */
const props = defineProps<{ landscape: BufferLandscape; targets: number[]; read?: number; narrow?: boolean }>()
const clip = useId()
const width = computed(() => (props.narrow ? 330 : 660))
const height = 190
const left = 46
const top = 18
const bottom = 26
const band = 46
const from = computed(() => props.landscape.pH[0] ?? 0)
const to = computed(() => props.landscape.pH.at(-1) ?? 14)
const x = (pH: number) => left + ((width.value - left - 12) * (pH - from.value)) / (to.value - from.value)

/** As high as the capacity of the system near the targets: water at the ends would dwarf it. */
const most = computed(() => {
  const { pH, beta, low, high } = props.landscape
  const near = beta.filter(
    (_, i) => pH[i]! >= Math.min(low, ...props.targets) && pH[i]! <= Math.max(high, ...props.targets),
  )
  return 1.25 * Math.max(1e-6, ...near)
})
const y = (beta: number) => top + (height - top - bottom) * (1 - beta / most.value)
const line = (values: number[]) =>
  values.map((v, i) => `${i ? 'L' : 'M'}${x(props.landscape.pH[i]!).toFixed(1)} ${y(v).toFixed(1)}`).join('')
const step = computed(() => {
  const rough = (most.value * 1000) / 3
  const power = 10 ** Math.floor(Math.log10(rough))
  return [1, 2, 5, 10].map((s) => s * power).find((s) => s >= rough) ?? 10 * power
})
const levels = computed(() => Array.from({ length: 4 }, (_, i) => i * step.value).filter((v) => v / 1000 <= most.value))
const marks = computed(() =>
  Array.from({ length: Math.floor(to.value) - Math.ceil(from.value) + 1 }, (_, i) => Math.ceil(from.value) + i).filter(
    (pH) => !props.narrow || pH % 2 === 0,
  ),
)
/** The fractions stacked, the acid on top. */
const areas = computed(() => {
  const { pH, forms } = props.landscape
  let above = pH.map(() => 0)
  return forms.map((form, k) => {
    const below = above.map((a, i) => a + form.fraction[i]!)
    const edge = (values: number[], turn = false) =>
      (turn ? [...values.keys()].reverse() : [...values.keys()])
        .map((i) => `${x(pH[i]!).toFixed(1)} ${(band * values[i]!).toFixed(1)}`)
        .join('L')
    const path = `M${edge(above)}L${edge(below, true)}Z`
    const widest = form.fraction.reduce((best, f, i) => (f > form.fraction[best]! + 1e-6 ? i : best), 0)
    const reach = form.fraction.filter((f) => f > 0.5).length
    const middle = form.fraction.findIndex((f) => f > 0.5) + Math.floor(reach / 2)
    above = below
    return { key: k, path, pieces: form.formula, at: reach > 4 ? x(pH[middle]!) : x(pH[widest]!), named: reach > 4 }
  })
})
</script>

<template>
  <figure>
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      role="img"
      :aria-label="`Buffer capacity against pH; useful from ${landscape.low.toFixed(1)} to ${landscape.high.toFixed(1)}`"
    >
      <rect
        :x="x(Math.max(from, landscape.low))"
        :y="top"
        :width="Math.max(0, x(Math.min(to, landscape.high)) - x(Math.max(from, landscape.low)))"
        :height="height - top - bottom"
        class="useful"
      />
      <text :x="x((landscape.low + landscape.high) / 2)" :y="top - 6" text-anchor="middle" class="words">
        {{ narrow ? 'useful' : 'useful, about the pKa' }}
      </text>
      <text x="2" :y="top - 6" class="words">β, mmol/L per pH</text>
      <g v-for="v in levels" :key="v">
        <line :x1="left" :x2="width - 12" :y1="y(v / 1000)" :y2="y(v / 1000)" class="grid" />
        <text :x="left - 6" :y="y(v / 1000) + 4" text-anchor="end">{{ Number(v.toPrecision(3)) }}</text>
      </g>
      <text v-for="pH in marks" :key="pH" :x="x(pH)" :y="height - 10" text-anchor="middle">{{ pH }}</text>
      <text x="2" :y="height - 10" class="words">pH</text>
      <clipPath :id="clip">
        <rect :x="left" :y="top" :width="width - left - 12" :height="height - top - bottom + 1" />
      </clipPath>
      <g :clip-path="`url(#${clip})`">
        <path :d="line(landscape.water)" class="water" />
        <path :d="line(landscape.beta)" class="curve" />
      </g>
      <g v-for="(pH, i) in targets" :key="i">
        <line :x1="x(pH)" :x2="x(pH)" :y1="top" :y2="height - bottom" class="target" />
      </g>
      <circle
        v-if="read !== undefined && read >= from && read <= to"
        :cx="x(read)"
        :cy="height - bottom"
        r="5"
        class="read"
      />
    </svg>
    <div class="forms">
      <svg :viewBox="`0 0 ${width} ${band}`" role="img" aria-label="Which part of the system has which form">
        <path v-for="a in areas" :key="a.key" :d="a.path" :class="`form f${a.key % 4}`" />
        <line v-for="(pH, i) in targets" :key="i" :x1="x(pH)" :x2="x(pH)" y1="0" :y2="band" class="target" />
      </svg>
      <template v-for="a in areas" :key="a.key">
        <span v-if="a.named" class="name small" :style="{ left: `${(100 * a.at) / width}%` }"
          ><FormulaText :pieces="a.pieces"
        /></span>
      </template>
    </div>
    <figcaption class="small soft">
      Line: capacity of the system at this strength; dotted: of water alone; dashed: the pH wanted<template
        v-if="read !== undefined"
        >; ring: the pH read</template
      >. Below: the forms.
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
<style scoped>
.useful {
  fill: var(--green-tint);
}
.water {
  fill: none;
  stroke: var(--ink-soft);
  stroke-dasharray: 1.5 3;
}
.target {
  stroke: var(--amber);
  stroke-dasharray: 5 4;
}
.read {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 2;
}
.forms {
  position: relative;
}
.form {
  stroke: none;
}
.f0 {
  fill: #f3ead6;
}
.f1 {
  fill: #dcebe3;
}
.f2 {
  fill: #aed0c2;
}
.f3 {
  fill: #83b3a1;
}
.name {
  position: absolute;
  top: 50%;
  transform: translate(-50%, -50%);
}
</style>
