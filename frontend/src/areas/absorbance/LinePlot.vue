<script setup lang="ts">
import { computed } from 'vue'
import type { AbsorbanceView } from '@/api/client'
import XYPlot from '@/design/XYPlot.vue'
import type { PlotLine, PlotMark } from '@/design/plot'

/** Standards with their line and its band, unknowns led to the axis, and below what lies off the line. */
const props = defineProps<{ view: AbsorbanceView }>()
const standards = computed(() => props.view.vessels.filter((v) => !v.unknown))
const unknowns = computed(() => props.view.vessels.filter((v) => v.unknown && v.figure))
const highest = computed(() =>
  Math.max(
    ...props.view.band.map((b) => b.c),
    ...standards.value.map((v) => 1.08 * v.c),
    ...unknowns.value.map((v) => 1.05 * (v.c + v.u)),
    1e-9,
  ),
)
/** The line through additions is drawn back to no absorbance. */
const lowest = computed(() => Math.min(0, 1.1 * (props.view.added ? (props.view.band[0]?.c ?? 0) : 0)))
const x = computed(() => ({
  from: lowest.value,
  to: highest.value,
  words: props.view.added ? `${props.view.unit} added` : props.view.unit,
}))
const darkest = computed(() =>
  Math.max(
    props.view.best.to * 1.1,
    ...props.view.vessels.flatMap((v) => v.readings.map((r) => 1.1 * r.a)),
    ...props.view.band.map((b) => b.a + b.half),
    ...before.value.map((b) => 1.1 * b[1]),
  ),
)
const palest = computed(() => Math.min(0, ...props.view.vessels.flatMap((v) => v.readings.map((r) => 1.1 * r.a))))
/** The line of an earlier run, as far as this one goes. */
const before = computed(() => {
  const b = props.view.before
  return b ? [0, highest.value].map((c) => [c, b.intercept + b.slope * c] as const) : []
})
const lines = computed((): PlotLine[] => [
  { points: before.value, as: 'dotted-amber' },
  { points: props.view.band.map((b) => [b.c, b.a] as const) },
  ...unknowns.value.flatMap((v): PlotLine[] => [
    {
      points: [
        [0, v.mean],
        [v.c, v.mean],
        [v.c, palest.value],
      ],
      as: 'dotted-amber',
    },
    {
      points: [
        [v.c - v.u, palest.value],
        [v.c + v.u, palest.value],
      ],
      as: 'amber',
    },
  ]),
])
const band = computed(() =>
  props.view.band.length
    ? [
        [
          ...props.view.band.map((b) => [b.c, b.a + b.half] as const),
          ...[...props.view.band].reverse().map((b) => [b.c, b.a - b.half] as const),
        ],
      ]
    : [],
)
const marks = computed((): PlotMark[] => [
  ...standards.value.flatMap((v): PlotMark[] =>
    v.readings.length
      ? v.readings.map((r) => ({ at: [v.c, r.a], as: v.struck ? 'ring' : 'dot', ux: v.u }))
      : [{ at: [v.c, palest.value], as: 'coming' }],
  ),
  ...unknowns.value.map((v): PlotMark => ({ at: [v.c, v.mean], as: 'amber', ux: v.u })),
])
/** Names stand over a few unknowns; of many the table tells them. */
const named = computed(() =>
  unknowns.value.length <= 5
    ? unknowns.value.map((v) => ({ axis: 'x' as const, at: v.c, words: v.name.slice(0, 22) }))
    : [],
)
const residuals = computed(() =>
  props.view.line
    ? standards.value.flatMap((v) =>
        v.readings.map((r): PlotMark => ({
          at: [v.c, r.a - props.view.line!.intercept - props.view.line!.slope * v.c],
          as: v.struck ? 'ring' : 'dot',
        })),
      )
    : [],
)
const caption = computed(() => {
  const v = props.view
  if (v.added)
    return 'Dots: portions. The line is drawn back to no absorbance: as far below zero as there was of the sample itself.'
  if (v.line)
    return 'Dots: standards. Rings: struck. Line with its band at 95 %, shaded. Amber: unknowns, led to their concentration with its interval.'
  return `Dashed: standards that are to be read.${v.before ? ` Dotted: the line of run ${v.before.number}.` : ''}`
})
/** The scale of what counts; what was struck stands at the edge where it lies further off. */
const widest = computed(
  () => 1.25 * Math.max(0.002, ...residuals.value.filter((m) => m.as === 'dot').map((m) => Math.abs(m.at[1]))),
)
const shown = computed(() =>
  residuals.value.map((m): PlotMark => {
    const edge = 0.96 * widest.value
    return { ...m, at: [m.at[0], Math.max(-edge, Math.min(edge, m.at[1]))] }
  }),
)
</script>

<template>
  <figure>
    <XYPlot
      :label="`Absorbance at ${view.wavelength} nm over the concentration`"
      :x="x"
      :y="{ from: palest, to: darkest, words: `absorbance at ${view.wavelength} nm` }"
      :bands="[
        { axis: 'y', from: view.best.from, to: view.best.to, words: `${view.best.from} to ${view.best.to}: read best` },
      ]"
      :lines="lines"
      :areas="band"
      :marks="marks"
      :rules="named"
      :ratio="0.58"
    />
    <figcaption class="small soft">
      {{ caption }}
    </figcaption>
    <template v-if="residuals.length">
      <h3>Off the line</h3>
      <XYPlot
        label="Residuals, magnified"
        :x="x"
        :y="{ from: -widest, to: widest, words: 'AU off the line' }"
        :marks="shown"
        :rules="[{ axis: 'y', at: 0, as: 'plain' }]"
        :ratio="0.28"
        :least="120"
        :most="170"
      />
      <p v-if="shown.some((m, i) => m.at[1] !== residuals[i]!.at[1])" class="small soft">
        A ring at the edge lies further off than this scale.
      </p>
    </template>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
