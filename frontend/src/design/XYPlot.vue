<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { line as pathOf } from 'd3-shape'
import { computed, useId, useTemplateRef } from 'vue'
import {
  rowsOf,
  type PlotArea,
  type PlotAxis,
  type PlotBand,
  type PlotLine,
  type PlotMark,
  type PlotRule,
  type Point,
} from './plot'

/** Lines and readings over two axes with round ticks. It is drawn in the pixels that it has, so that
 * its words keep their size on a phone and on a wide screen, and in SVG, so that it prints. */
const props = withDefaults(
  defineProps<{
    /** What it shows, for who cannot see it. */
    label: string
    x: PlotAxis
    y: PlotAxis
    lines?: PlotLine[]
    marks?: PlotMark[]
    bands?: PlotBand[]
    rules?: PlotRule[]
    areas?: PlotArea[]
    /** Height for each width; the least and the most of it in pixels. */
    ratio?: number
    least?: number
    most?: number
  }>(),
  {
    lines: () => [],
    marks: () => [],
    bands: () => [],
    rules: () => [],
    areas: () => [],
    ratio: 0.62,
    least: 230,
    most: 460,
  },
)

const frame = useTemplateRef('frame')
const { width: measured } = useElementSize(frame)
const clip = useId()
const width = computed(() => Math.max(220, Math.round(measured.value || 330)))
const height = computed(() => Math.round(Math.min(props.most, Math.max(props.least, width.value * props.ratio))))
const left = 46
const right = 14
const bottom = 38
/** Words of the vertical rules stand above the plot, in as many rows as it takes. */
const letter = 6.6
const placed = computed(() => {
  const upright = props.rules.filter((r) => r.axis === 'x')
  const spans = upright.map((r) => {
    const half = ((r.words?.length ?? 0) * letter) / 2
    const middle = Math.min(Math.max(raw.value(r.at), left + half), width.value - right - half)
    return { from: middle - half, to: middle + half, middle }
  })
  const order = spans.map((_, i) => i).sort((a, b) => spans[a]!.from - spans[b]!.from)
  const rows = rowsOf(order.map((i) => spans[i]!))
  return order.map((i, k) => ({ rule: upright[i]!, middle: spans[i]!.middle, row: rows[k]! }))
})
const raw = computed(() => scaleLinear([props.x.from, props.x.to], [left, width.value - right]))
const top = computed(() => 22 + 14 * Math.max(0, ...placed.value.filter((p) => p.rule.words).map((p) => p.row + 1)))
const sx = raw
const sy = computed(() => scaleLinear([props.y.from, props.y.to], [height.value - bottom, top.value]))

const ticks = (scale: typeof sx.value, pixels: number, each: number) => {
  const count = Math.max(2, Math.floor(pixels / each))
  const format = scale.tickFormat(count)
  return scale.ticks(count).map((at) => ({ at, text: format(at).replace('-', '−') }))
}
const xTicks = computed(() => {
  const free = width.value - right - props.x.words.length * letter - 8
  return ticks(sx.value, width.value - left - right, 62).map((t) => ({
    ...t,
    // The name of the axis stands at its end: a tick there keeps its mark, not its figure.
    text: sx.value(t.at) + (t.text.length * letter) / 2 > free ? '' : t.text,
  }))
})
const yTicks = computed(() => ticks(sy.value, height.value - top.value - bottom, 34))
const path = computed(() =>
  pathOf<Point>()
    .defined(([x, y]) => Number.isFinite(x) && Number.isFinite(y))
    .x(([x]) => sx.value(x))
    .y(([, y]) => sy.value(y)),
)
const between = (v: number, { from, to }: PlotAxis) => Math.min(Math.max(v, from), to)
const boxes = computed(() =>
  props.bands.map((b) => {
    const axis = b.axis === 'x' ? props.x : props.y
    const [from, to] = [between(b.from, axis), between(b.to, axis)]
    const box =
      b.axis === 'x'
        ? { x: sx.value(from), width: sx.value(to) - sx.value(from), y: top.value, height: innerHeight.value }
        : { x: left, width: width.value - left - right, y: sy.value(to), height: sy.value(from) - sy.value(to) }
    const n = b.colours?.length ?? 0
    const parts = (b.colours ?? []).map((fill, i) =>
      b.axis === 'x'
        ? { ...box, fill, x: box.x + (i * box.width) / n, width: box.width / n }
        : { ...box, fill, y: box.y + ((n - 1 - i) * box.height) / n, height: box.height / n },
    )
    return { band: b, box, parts }
  }),
)
const innerHeight = computed(() => height.value - top.value - bottom)
const isWithin = ([x, y]: Point) =>
  x >= props.x.from - 1e-9 && x <= props.x.to + 1e-9 && y >= props.y.from - 1e-9 && y <= props.y.to + 1e-9
</script>

<template>
  <div ref="frame" class="plot">
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" :aria-label="label">
      <clipPath :id="clip">
        <rect :x="left" :y="top" :width="width - left - right" :height="innerHeight" />
      </clipPath>
      <g v-for="({ band, box, parts }, i) in boxes" :key="`b${i}`">
        <rect v-if="!parts.length" v-bind="box" :class="band.as ?? 'useful'" />
        <rect v-for="(p, k) in parts" :key="k" v-bind="p" class="tint" />
        <text v-if="band.words" :x="box.x + 8" :y="box.y + 15" class="words">{{ band.words }}</text>
      </g>
      <g v-for="t in yTicks" :key="t.at">
        <line :x1="left" :x2="width - right" :y1="sy(t.at)" :y2="sy(t.at)" class="grid" />
        <text :x="left - 7" :y="sy(t.at) + 4" text-anchor="end">{{ t.text }}</text>
      </g>
      <g v-for="t in xTicks" :key="t.at">
        <line :x1="sx(t.at)" :x2="sx(t.at)" :y1="height - bottom" :y2="height - bottom + 5" class="axis" />
        <text :x="sx(t.at)" :y="height - bottom + 18" text-anchor="middle">{{ t.text }}</text>
      </g>
      <line :x1="left" :x2="width - right" :y1="height - bottom" :y2="height - bottom" class="axis" />
      <text x="2" :y="12" class="words">{{ y.words }}</text>
      <text :x="width - right" :y="height - bottom + 18" text-anchor="end" class="words">{{ x.words }}</text>
      <g v-for="({ rule, middle, row }, i) in placed" :key="`r${i}`" class="rule" :class="rule.as ?? 'amber'">
        <line :x1="sx(rule.at)" :x2="sx(rule.at)" :y1="top" :y2="height - bottom" />
        <text v-if="rule.words" :x="middle" :y="top - 5 - 14 * row" text-anchor="middle" class="words">
          {{ rule.words }}
        </text>
      </g>
      <g v-for="(r, i) in rules.filter((r) => r.axis === 'y')" :key="`h${i}`" class="rule" :class="r.as ?? 'amber'">
        <line :x1="left" :x2="width - right" :y1="sy(r.at)" :y2="sy(r.at)" />
        <text v-if="r.words" :x="width - right" :y="sy(r.at) - 4" text-anchor="end" class="words">{{ r.words }}</text>
      </g>
      <g :clip-path="`url(#${clip})`">
        <path v-for="(a, i) in areas" :key="`a${i}`" :d="`${path([...a]) ?? ''}Z`" class="area" />
        <path
          v-for="(l, i) in lines"
          :key="`l${i}`"
          :d="path([...l.points]) ?? ''"
          class="line"
          :class="l.as ?? 'found'"
        />
      </g>
      <template v-for="(m, i) in marks" :key="`m${i}`">
        <g v-if="isWithin(m.at)">
          <line
            v-if="m.u"
            :x1="sx(m.at[0])"
            :x2="sx(m.at[0])"
            :y1="sy(between(m.at[1] - m.u, y))"
            :y2="sy(between(m.at[1] + m.u, y))"
            class="spread"
          />
          <line
            v-if="m.ux"
            :x1="sx(between(m.at[0] - m.ux, x))"
            :x2="sx(between(m.at[0] + m.ux, x))"
            :y1="sy(m.at[1])"
            :y2="sy(m.at[1])"
            class="spread"
          />
          <rect
            v-if="m.as === 'square'"
            :x="sx(m.at[0]) - 3.5"
            :y="sy(m.at[1]) - 3.5"
            width="7"
            height="7"
            class="mark"
          />
          <circle v-else :cx="sx(m.at[0])" :cy="sy(m.at[1])" r="4" class="mark" :class="m.as ?? 'ring'" />
        </g>
      </template>
    </svg>
    <slot name="under" :x="sx" :width="width" />
  </div>
</template>

<style scoped>
.plot {
  position: relative;
}
svg {
  width: 100%;
  display: block;
}
text {
  font: 12px var(--text);
  font-variant-numeric: tabular-nums;
  fill: var(--ink-soft);
}
.words {
  fill: var(--ink-soft);
}
.grid {
  stroke: var(--line);
}
.axis {
  stroke: var(--line-strong);
}
.useful {
  fill: var(--green-tint);
}
.outside {
  fill: var(--amber-tint);
}
.tint {
  opacity: 0.45;
}
.area {
  fill: var(--green);
  opacity: 0.22;
}
.line {
  fill: none;
  stroke: var(--green);
  stroke-width: 2;
}
.line.theory,
.line.beside {
  stroke: var(--ink-soft);
  stroke-width: 1.5;
  stroke-dasharray: 1.5 3.5;
}
.line.amber {
  stroke: var(--amber);
}
.line.dotted-amber {
  stroke: var(--amber);
  stroke-width: 1.5;
  stroke-dasharray: 1.5 3.5;
}
.rule line {
  stroke: var(--amber);
  stroke-dasharray: 5 4;
}
.rule text {
  fill: var(--amber);
}
.rule.plain line {
  stroke: var(--line-strong);
}
.rule.plain text {
  fill: var(--ink-soft);
}
.spread {
  stroke: var(--ink-soft);
}
.mark {
  fill: var(--sheet);
  stroke: var(--green-deep);
  stroke-width: 1.8;
}
.mark.dot {
  fill: var(--green-deep);
}
.mark.amber {
  stroke: var(--amber);
  stroke-width: 2.2;
}
.mark.doubt {
  fill: var(--red);
  stroke: var(--red);
}
.mark.coming {
  stroke: var(--ink-soft);
  stroke-dasharray: 2 2;
}
</style>
