<script setup lang="ts">
import type { ScaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { BufferLandscape } from '@/api/client'
import FormulaText from '@/design/FormulaText.vue'
import XYPlot from '@/design/XYPlot.vue'
import type { PlotMark } from '@/design/plot'

/** Buffer capacity against pH, in mmol/L per pH, with the target, the pKa and the useful range, and
 * under it which form the system has. */
const props = defineProps<{ landscape: BufferLandscape; targets: number[]; read?: number }>()
const band = 46
const from = computed(() => props.landscape.pH[0] ?? 0)
const to = computed(() => props.landscape.pH.at(-1) ?? 14)
/** As high as the capacity of the system near the targets: water at the ends would dwarf it. */
const most = computed(() => {
  const { pH, beta, low, high } = props.landscape
  const near = beta.filter(
    (_, i) => pH[i]! >= Math.min(low, ...props.targets) && pH[i]! <= Math.max(high, ...props.targets),
  )
  return 1250 * Math.max(1e-6, ...near)
})
const line = (values: number[]) => values.map((v, i) => [props.landscape.pH[i]!, 1000 * v] as const)
const marks = computed((): PlotMark[] => (props.read === undefined ? [] : [{ at: [props.read, 0], as: 'dot' }]))

/** The fractions stacked, the acid on top. */
function areas(x: ScaleLinear<number, number>) {
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
}
</script>

<template>
  <figure>
    <XYPlot
      :label="`Buffer capacity against pH; useful from ${landscape.low.toFixed(1)} to ${landscape.high.toFixed(1)}`"
      :x="{ from, to, words: 'pH' }"
      :y="{ from: 0, to: most, words: 'β, mmol/L per pH' }"
      :lines="[{ points: line(landscape.water), as: 'beside' }, { points: line(landscape.beta) }]"
      :bands="[{ axis: 'x', from: landscape.low, to: landscape.high, words: 'useful' }]"
      :rules="targets.map((at) => ({ axis: 'x', at, words: at.toFixed(2) }))"
      :marks="marks"
      :ratio="0.5"
      :most="260"
    >
      <template #under="{ x, width }">
        <div class="forms">
          <svg :viewBox="`0 0 ${width} ${band}`" role="img" aria-label="Which part of the system has which form">
            <path v-for="a in areas(x)" :key="a.key" :d="a.path" :class="`form f${a.key % 4}`" />
            <line v-for="(pH, i) in targets" :key="i" :x1="x(pH)" :x2="x(pH)" y1="0" :y2="band" class="target" />
          </svg>
          <template v-for="a in areas(x)" :key="a.key">
            <span v-if="a.named" class="name small" :style="{ left: `${(100 * a.at) / width}%` }"
              ><FormulaText :pieces="a.pieces"
            /></span>
          </template>
        </div>
      </template>
    </XYPlot>
    <figcaption class="small soft">
      Line: capacity of the system at this strength; dotted: of water alone; dashed: the pH wanted<template
        v-if="read !== undefined"
        >; dot: the pH read</template
      >. Below: the forms.
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
<style scoped>
.forms {
  position: relative;
}
.forms svg {
  width: 100%;
  display: block;
}
.target {
  stroke: var(--amber);
  stroke-dasharray: 5 4;
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
