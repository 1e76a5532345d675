<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'
import XYPlot from '@/design/XYPlot.vue'
import type { PlotLine, PlotMark } from '@/design/plot'

/** The calibration as a line through its points, with the residuals magnified below. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string]; decide: [choice: string, part: number] }>()
const view = computed(() => (props.run.outcome.view.kind === 'calibration' ? props.run.outcome.view : undefined))
const line = computed(() => view.value?.line)
const offers = (part: number) =>
  props.run.outcome.status === 'void'
    ? []
    : props.run.outcome.offers.filter((o) => (o.part ?? 0) === part && o.id !== 'start-again')

const residuals = computed(() => (view.value?.buffers ?? []).filter((b) => b.residual !== undefined))
/** Residuals are magnified to the largest of them, at least 0.02 pH. */
const most = computed(() => 1.15 * Math.max(0.02, ...residuals.value.map((b) => Math.abs(b.off))))
const pH = { from: 0, to: 14, words: 'pH' }
const lines = computed((): PlotLine[] =>
  line.value
    ? [
        {
          points: [
            [0, line.value.theory0],
            [14, line.value.theory14],
          ],
          as: 'theory',
        },
        {
          points: [
            [0, line.value.at0],
            [14, line.value.at14],
          ],
        },
      ]
    : [],
)
const marks = computed(() =>
  (view.value?.buffers ?? []).map((b): PlotMark => ({
    at: [b.pH, b.read ? b.mV : 0],
    as: b.read ? (b.doubt ? 'doubt' : 'dot') : 'coming',
  })),
)
</script>

<template>
  <div v-if="view" class="panel">
    <XYPlot
      :label="`Calibration line of ${view.meter}`"
      :x="pH"
      :y="{ from: -430, to: 430, words: 'mV' }"
      :bands="line ? [{ axis: 'x', from: line.low, to: line.high }] : []"
      :lines="lines"
      :marks="marks"
      :rules="[{ axis: 'y', at: 0, as: 'plain' }]"
    />
    <p class="small soft">
      {{
        line
          ? 'Solid: as found. Dotted: theory. Shaded: the span of the buffers.'
          : 'The buffers to come, on the pH scale.'
      }}
    </p>

    <template v-if="residuals.length">
      <h3>Off the line</h3>
      <XYPlot
        label="Residuals, magnified"
        :x="pH"
        :y="{ from: -most, to: most, words: 'pH off the line' }"
        :marks="residuals.map((b) => ({ at: [b.pH, b.off], as: 'dot' }))"
        :rules="[{ axis: 'y', at: 0, as: 'plain' }]"
        :ratio="0.4"
        :least="130"
        :most="170"
      />
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
