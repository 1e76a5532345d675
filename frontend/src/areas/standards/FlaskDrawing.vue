<script setup lang="ts">
import { computed } from 'vue'
import type { Vessel } from '@/api/client'

/** A volumetric flask to scale: its neck and body follow from the volume, and the
 * level stands where that much liquid reaches. */
const props = defineProps<{ vessel: Vessel }>()
const slices = 240
const bottle = computed(() => props.vessel.neck === 0)

const drawing = computed(() => {
  const { flask, filled } = props.vessel
  const volume = flask.volume * 1000 // mm³
  // A bottle has no narrow neck and no mark: half as wide as the body it would have.
  const neckRadius = bottle.value ? 0.22 * Math.cbrt(volume) : props.vessel.neck / 2
  // A rounded body with a flat foot, blending into the neck; its radius is found
  // so that body and neck up to the mark hold the volume.
  const shape = (radius: number) => {
    const body = 2.1 * radius
    const mark = body + 0.75 * radius + 12
    const top = mark + 0.7 * radius + 10
    const r = (h: number) => {
      if (h >= body) return neckRadius
      const t = h / body
      const bulge = radius * Math.pow(Math.sin(Math.PI * Math.min(1, 0.14 + 0.86 * Math.pow(t, 0.8))), 0.75)
      return Math.max(neckRadius, bulge)
    }
    return { body, mark, top, r }
  }
  const content = (s: ReturnType<typeof shape>, upTo: number) => {
    let sum = 0
    for (let i = 0; i < slices; i++) {
      const r = s.r(((i + 0.5) / slices) * upTo)
      sum += (Math.PI * r * r * upTo) / slices
    }
    return sum
  }
  let low = 1
  let high = 200
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2
    if (content(shape(middle), shape(middle).mark) < volume) low = middle
    else high = middle
  }
  const s = shape((low + high) / 2)
  let [from, to] = [0, s.top]
  for (let i = 0; i < 40; i++) {
    const middle = (from + to) / 2
    if (content(s, middle) < filled * 1000) from = middle
    else to = middle
  }
  const level = filled > 0 ? (from + to) / 2 : 0
  const steps = Array.from({ length: slices + 1 }, (_, i) => (i / slices) * s.top)
  const outline = (upTo: number) => {
    const heights = [...steps.filter((h) => h < upTo), upTo]
    const right = heights.map((h) => `${s.r(h).toFixed(2)} ${(s.top - h).toFixed(2)}`)
    const left = [...heights].reverse().map((h) => `${(-s.r(h)).toFixed(2)} ${(s.top - h).toFixed(2)}`)
    return { right, left }
  }
  const glass = outline(s.top)
  const liquid = outline(level)
  const scale = s.top / 210
  return {
    box: `${-95 * scale} ${-14 * scale} ${300 * scale} ${s.top + 20 * scale}`,
    scale,
    glass: `M${glass.left.join('L')}L${glass.right.join('L')}`,
    liquid: level > 0 ? `M${liquid.right.join('L')}L${liquid.left.join('L')}Z` : '',
    levelY: s.top - level,
    levelR: s.r(level),
    markY: s.top - s.mark,
    neckRadius,
    bodyY: s.top - s.body * 0.5,
    radius: s.r(s.body * 0.45),
    level,
  }
})
const holds = computed(() => {
  const { flask, tolerance } = props.vessel
  if (bottle.value) return `${Number(flask.volume.toPrecision(4))} mL, a bottle`
  if (flask.certified) return `${flask.certified} ± ${flask.certifiedLimits} mL, ${flask.mark}`
  return `${flask.volume} ± ${tolerance} mL, ${flask.class}`
})
</script>

<template>
  <svg class="flask" :viewBox="drawing.box" role="img" :aria-label="`${holds}: ${vessel.level}`">
    <path v-if="drawing.liquid" :d="drawing.liquid" class="liquid" />
    <line
      v-if="drawing.level > 0"
      :x1="-drawing.levelR"
      :x2="drawing.levelR"
      :y1="drawing.levelY"
      :y2="drawing.levelY"
      class="surface"
      :stroke-width="1.2 * drawing.scale"
    />
    <path :d="drawing.glass" class="glass" :stroke-width="1.6 * drawing.scale" />
    <line
      :x1="-drawing.neckRadius - 4 * drawing.scale"
      :x2="drawing.neckRadius + 4 * drawing.scale"
      y1="0"
      y2="0"
      class="glass"
      :stroke-width="3 * drawing.scale"
    />
    <line
      v-if="!bottle"
      :x1="-drawing.neckRadius - 5 * drawing.scale"
      :x2="drawing.neckRadius + 8 * drawing.scale"
      :y1="drawing.markY"
      :y2="drawing.markY"
      class="line"
      :stroke-width="1.8 * drawing.scale"
    />
    <text
      :x="drawing.neckRadius + 14 * drawing.scale"
      :y="drawing.markY + 4 * drawing.scale"
      :font-size="12.5 * drawing.scale"
      class="now"
    >
      {{ holds }}
    </text>
    <text
      :x="drawing.radius + 8 * drawing.scale"
      :y="drawing.bodyY"
      :font-size="12.5 * drawing.scale"
      class="soft-text"
      :class="{ stop: vessel.level === 'past the mark' }"
    >
      {{ vessel.level }}
    </text>
  </svg>
</template>

<style scoped>
.flask {
  width: 100%;
  max-width: 24rem;
  max-height: 15.5rem;
  display: block;
}
.glass {
  fill: none;
  stroke: var(--glass);
  stroke-linejoin: round;
}
.liquid {
  fill: var(--liquid);
}
.surface {
  stroke: var(--glass);
  stroke-dasharray: 5 4;
}
.line {
  stroke: var(--ink);
}
.now {
  fill: var(--ink);
}
.soft-text {
  fill: var(--ink-soft);
}
.stop {
  fill: var(--red);
  font-weight: 700;
}
</style>
