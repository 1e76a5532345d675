<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'

/** The calibration as a line through its points, with the residuals magnified below. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string]; decide: [choice: string, part: number] }>()
const view = computed(() => (props.run.outcome.view.kind === 'calibration' ? props.run.outcome.view : undefined))
const line = computed(() => view.value?.line)
const offers = (part: number) =>
  props.run.outcome.status === 'void'
    ? []
    : props.run.outcome.offers.filter((o) => (o.part ?? 0) === part && o.id !== 'start-again')

const width = 320
const height = 210
const left = 44
const bottom = 26
const x = (pH: number) => left + ((width - left - 8) * pH) / 14
const y = (mV: number) => 8 + ((height - bottom - 8) * (430 - mV)) / 860
const residuals = computed(() => (view.value?.buffers ?? []).filter((b) => b.residual !== undefined))
/** Residuals are magnified to the largest of them, at least 0.02 pH. */
const most = computed(() => Math.max(0.02, ...residuals.value.map((b) => Math.abs(b.off))))
const ry = (off: number) => 30 - (24 * off) / most.value
</script>

<template>
  <div v-if="view" class="panel">
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" :aria-label="`Calibration line of ${view.meter}`" class="plot">
      <rect
        v-if="line"
        :x="x(line.low)"
        y="8"
        :width="x(line.high) - x(line.low)"
        :height="height - bottom - 8"
        class="span"
      />
      <g class="axis">
        <line :x1="left" :x2="width - 8" :y1="y(0)" :y2="y(0)" />
        <line :x1="x(7)" :x2="x(7)" y1="8" :y2="height - bottom" />
        <text v-for="pH in [0, 2, 4, 7, 10, 12, 14]" :key="pH" :x="x(pH)" :y="height - 10" text-anchor="middle">
          {{ pH }}
        </text>
        <text v-for="mV in [400, 200, 0, -200, -400]" :key="mV" :x="left - 6" :y="y(mV) + 4" text-anchor="end">
          {{ String(mV).replace('-', '−') }}
        </text>
        <text :x="width - 8" :y="height - 1" text-anchor="end">pH</text>
        <text x="2" y="10">mV</text>
      </g>
      <template v-if="line">
        <line :x1="x(0)" :x2="x(14)" :y1="y(line.theory0)" :y2="y(line.theory14)" class="theory" />
        <line :x1="x(0)" :x2="x(14)" :y1="y(line.at0)" :y2="y(line.at14)" class="found" />
      </template>
      <g v-for="b in view.buffers" :key="b.name">
        <circle v-if="b.read" :cx="x(b.pH)" :cy="y(b.mV)" r="4.5" :class="{ doubt: b.doubt }" />
        <circle v-else :cx="x(b.pH)" :cy="y(0)" r="4.5" class="coming" />
      </g>
    </svg>
    <p class="small soft">
      {{
        line
          ? 'Solid: as found. Dashed: theory. Shaded: the span of the buffers.'
          : 'The buffers to come, on the pH scale.'
      }}
    </p>

    <template v-if="residuals.length">
      <h3>Off the line</h3>
      <svg :viewBox="`0 0 ${width} 60`" role="img" aria-label="Residuals, magnified" class="plot">
        <line :x1="left" :x2="width - 8" y1="30" y2="30" class="zero" />
        <g v-for="b in residuals" :key="b.name">
          <line :x1="x(b.pH)" :x2="x(b.pH)" y1="30" :y2="ry(b.off)" class="found" />
          <circle :cx="x(b.pH)" :cy="ry(b.off)" r="3.5" />
        </g>
        <text :x="left - 6" y="10" text-anchor="end">{{ most.toFixed(2) }}</text>
        <text :x="left - 6" y="58" text-anchor="end">−{{ most.toFixed(2) }}</text>
      </svg>
    </template>

    <ul class="points" aria-label="Buffers">
      <li v-for="(b, i) in view.buffers" :key="b.name" :class="{ coming: !b.read }">
        <strong class="figure">{{ b.pH.toFixed(2) }}</strong> {{ b.name }}
        <span v-if="b.read" class="small soft figure">
          {{ b.text }}, {{ b.celsius.toFixed(1) }} °C<template v-if="b.residual">, off by {{ b.residual }} pH</template>
        </span>
        <el-button
          v-for="o in offers(i)"
          :key="o.id"
          link
          type="primary"
          size="small"
          :disabled="busy"
          @click="emit('decide', o.id, i)"
          >{{ o.label }}</el-button
        >
      </li>
    </ul>
    <dl v-if="run.outcome.figures.length" class="found-figures">
      <template v-for="(f, i) in run.outcome.figures" :key="f.id">
        <dt>{{ f.label }}</dt>
        <dd><FigureText :figure="f" :large="i === 0" @explain="emit('explain', f.id)" /></dd>
      </template>
    </dl>
    <div v-if="run.outcome.status === 'finished'" class="no-print">
      <VerdictLine v-for="v in line?.verdicts ?? []" :key="v.sentence" :verdict="v" />
    </div>
  </div>
</template>

<style scoped>
.plot {
  width: 100%;
  background: var(--sheet);
}
.plot text {
  font-family: var(--mono);
  font-size: 10.5px;
  fill: var(--ink-soft);
}
.axis line,
.zero {
  stroke: var(--line);
}
.span {
  fill: var(--green-tint);
}
.theory {
  stroke: var(--line-strong);
  stroke-dasharray: 5 4;
}
.found {
  stroke: var(--green);
  stroke-width: 1.8;
}
.plot circle {
  fill: var(--ink);
}
.plot circle.doubt {
  fill: var(--red);
}
.plot circle.coming {
  fill: var(--sheet);
  stroke: var(--ink-soft);
}
.points {
  list-style: none;
  padding: 0;
  margin: 0.6rem 0;
}
.points li {
  padding: 0.25rem 0;
  border-bottom: 1px solid var(--line);
}
.points .small {
  display: block;
}
.points .coming {
  color: var(--ink-soft);
}
dl {
  margin: 0.6rem 0;
}
dt {
  font-size: 0.87rem;
  color: var(--ink-soft);
  margin-top: 0.4rem;
}
dd {
  margin: 0;
}
@media print {
  .panel {
    columns: 2;
    column-gap: 2rem;
  }
}
</style>
