<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { SessionBar } from '@/api/client'
import { clock, day } from '@/design/time'
import { longDay } from './plan'

/** Who does what when, and what holds the oven, the hood, a balance or a meter: a row for each, a strip for
 * each day on which something is done. The hands are drawn full, the waiting open. */
const props = defineProps<{ bars: SessionBar[]; ready: string; starts: string }>()

const width = 760
const left = 92
const tall = 26

const hour = (moment: string) => {
  const at = new Date(moment)
  return at.getHours() + at.getMinutes() / 60
}
interface Drawn {
  title: string
  from: number
  hands: number
  to: number
  label: string
}
const days = computed(() => {
  const byDay = new Map<string, SessionBar[]>()
  for (const bar of props.bars) byDay.set(day(bar.starts), [...(byDay.get(day(bar.starts)) ?? []), bar])
  return [...byDay].map(([date, bars]) => {
    const first = Math.floor(Math.min(...bars.map((b) => hour(b.starts))))
    const ends = bars.map((b) => (day(b.ends) === date ? hour(b.ends) : 24))
    const last = Math.max(first + 3, Math.ceil(Math.max(...ends, day(props.starts) === date ? hour(props.starts) : 0)))
    const x = scaleLinear([first, last], [left, width - 30])
    const rows = new Map<string, Drawn[]>()
    const add = (row: string, drawn: Drawn) => rows.set(row, [...(rows.get(row) ?? []), drawn])
    for (const bar of bars) {
      const from = hour(bar.starts)
      const to = day(bar.ends) === date ? hour(bar.ends) : last
      const hands = bar.hands > 0 ? hour(bar.free) : from
      const label = `${clock(bar.starts)} to ${clock(bar.ends)}: ${bar.title}`
      if (bar.person) add(bar.person, { title: bar.title, from, hands, to: hands, label })
      for (const use of bar.uses)
        add(use.thing, {
          title: bar.title,
          from,
          hands: use.waiting ? from : hands,
          to: use.waiting ? to : hands,
          label,
        })
      if (!bar.person && bar.uses.length === 0) add('by itself', { title: bar.title, from, hands: from, to, label })
    }
    const ticks = x.ticks(Math.min(12, last - first)).filter(Number.isInteger)
    return {
      name: longDay(bars[0]!.starts),
      rows: [...rows].sort((a, b) => Number(isThing(a[0])) - Number(isThing(b[0]))),
      x,
      ticks,
      session: day(props.starts) === date ? x(hour(props.starts)) : undefined,
      now: day(new Date().toISOString()) === date ? x(hour(new Date().toISOString())) : undefined,
    }
  })
})
/** An hour whose figure would stand under the name of the session is not written. */
const besideSession = (x: number, session: number | undefined) =>
  session !== undefined && x > session - 85 && x < session + 20
const isThing = (row: string) =>
  props.bars.some((bar) => bar.uses.some((use) => use.thing === row)) || row === 'by itself'
</script>

<template>
  <figure v-for="d in days" :key="d.name" class="day">
    <figcaption>{{ d.name }}</figcaption>
    <svg :viewBox="`0 0 ${width} ${d.rows.length * (tall + 8) + 26}`" role="img" :aria-label="`Schedule of ${d.name}`">
      <g v-for="tick in d.ticks" :key="tick">
        <line :x1="d.x(tick)" :x2="d.x(tick)" y1="18" :y2="d.rows.length * (tall + 8) + 22" class="grid" />
        <text v-if="!besideSession(d.x(tick), d.session)" :x="d.x(tick)" y="12" class="tick">{{ tick }}:00</text>
      </g>
      <g v-for="([name, list], i) in d.rows" :key="name" :transform="`translate(0 ${i * (tall + 8) + 22})`">
        <text :x="left - 8" :y="tall / 2 + 4" class="row">{{ name.slice(0, 14) }}</text>
        <g v-for="bar in list" :key="bar.label">
          <title>{{ bar.label }}</title>
          <rect
            v-if="bar.to > bar.hands"
            :x="d.x(bar.hands)"
            y="0"
            :width="Math.max(2, d.x(bar.to) - d.x(bar.hands))"
            :height="tall"
            class="waits"
          />
          <rect
            v-if="bar.hands > bar.from"
            :x="d.x(bar.from)"
            y="0"
            :width="Math.max(2, d.x(bar.hands) - d.x(bar.from))"
            :height="tall"
            :class="isThing(name) ? 'holds' : 'hands'"
          />
          <text v-if="d.x(bar.to) - d.x(bar.from) > 30" :x="d.x(bar.from) + 4" :y="tall / 2 + 4" class="name">
            {{ bar.title.slice(0, Math.floor((d.x(bar.to) - d.x(bar.from) - 6) / 6.2)) }}
          </text>
        </g>
      </g>
      <g v-if="d.session !== undefined">
        <line :x1="d.session" :x2="d.session" y1="14" :y2="d.rows.length * (tall + 8) + 22" class="session" />
        <text :x="d.session - 4" y="12" class="tick at">the session</text>
      </g>
      <line
        v-if="d.now !== undefined && d.now > left"
        :x1="d.now"
        :x2="d.now"
        y1="14"
        :y2="d.rows.length * (tall + 8) + 22"
        class="now"
      />
    </svg>
  </figure>
</template>

<style scoped>
.day {
  margin: 0 0 1rem;
}
figcaption {
  font-weight: 700;
}
svg {
  width: 100%;
  max-width: 58rem;
  height: auto;
  font-family: var(--text);
  font-size: 11.5px;
}
.grid {
  stroke: var(--line);
}
.tick {
  text-anchor: middle;
  fill: var(--ink-soft);
}
.tick.at {
  text-anchor: end;
  fill: var(--amber);
  font-weight: 700;
}
.row {
  text-anchor: end;
  fill: var(--ink);
}
.hands {
  fill: var(--green-tint);
  stroke: var(--green);
}
.holds {
  fill: #ece7db;
  stroke: var(--line-strong);
}
.waits {
  fill: var(--sheet);
  stroke: var(--line-strong);
  stroke-dasharray: 3 2;
}
.name {
  fill: var(--ink);
}
.session {
  stroke: var(--amber);
  stroke-width: 2;
}
.now {
  stroke: var(--red);
  stroke-width: 2;
}
</style>
