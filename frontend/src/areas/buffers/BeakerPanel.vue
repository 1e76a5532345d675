<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import FigureText from '@/design/FigureText.vue'
import { spread } from '@/design/figure'
import LandscapePlot from './LandscapePlot.vue'

/** The beaker with its probe, where the pH is on the way to its goal, what explains one
 * that missed, and what the buffer gives. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const view = computed(() => (props.run.outcome.view.kind === 'buffer' ? props.run.outcome.view : undefined))
const design = computed(() => (props.run.plan.kind === 'buffer' ? props.run.plan.design : undefined))
const rows = computed(() => view.value?.rows ?? [])
const missed = computed(() => rows.value.filter((r) => r.diagnosis && !r.diagnosis.explained))
const level = computed(() => {
  const full = view.value?.flask ?? 1
  return 108 - 84 * Math.min(1, (view.value?.filled ?? 0) / full)
})
/** The buffer that was read last; before that, the first. */
const at = computed(() => rows.value.filter((r) => r.measured).at(-1) ?? rows.value[0])
const last = computed(() => at.value?.measured)
</script>

<template>
  <div v-if="view && design">
    <div class="beside">
      <svg
        viewBox="0 0 130 120"
        role="img"
        :aria-label="`About ${view.filled.toFixed(0)} mL${design.byVolume ? '' : ` of ${view.flask} mL`}`"
      >
        <rect v-if="view.filled > 0" x="22" :y="level" width="86" :height="112 - level" class="liquid" />
        <path d="M20 14 V108 Q20 114 26 114 H104 Q110 114 110 108 V14" class="glass" />
        <line v-if="!design.byVolume" x1="100" x2="110" y1="24" y2="24" class="mark" />
        <template v-if="view.filled > 0">
          <rect x="60" y="0" width="10" height="88" class="stem" />
          <circle cx="65" cy="92" r="7" class="bulb" />
        </template>
      </svg>
      <div>
        <p class="small soft">
          About {{ view.filled.toFixed(0) }} mL in front of you{{
            design.byVolume ? '' : `; the flask holds ${view.flask} mL`
          }}
        </p>
        <template v-if="last">
          <p class="large figure">pH {{ last.text }}</p>
          <p class="small soft">read, {{ spread(last) }}</p>
        </template>
        <p v-if="at" class="small">
          calculated <span class="figure">pH {{ at.calculated.text }} {{ spread(at.calculated) }}</span>
        </p>
      </div>
    </div>
    <LandscapePlot :landscape="design.landscape" :targets="rows.map((r) => r.target)" :read="last?.value" />
    <section v-for="(r, i) in missed" :key="i" class="causes" aria-label="What explains it">
      <h3>
        Calculated {{ r.diagnosis!.predicted.toFixed(2) }}, read
        {{ (r.diagnosis!.predicted + r.diagnosis!.difference).toFixed(2) }}: what explains it
      </h3>
      <ol v-if="r.diagnosis!.causes?.length">
        <li v-for="c in r.diagnosis!.causes.slice(0, 3)" :key="c.sentence">
          {{ c.sentence }} <span class="small soft">Gives pH {{ c.pH.toFixed(2) }}. {{ c.remedy }}</span>
        </li>
      </ol>
      <p v-else>None of the usual slips: check the meter in a buffer first.</p>
    </section>
    <table v-if="rows.length > 1" aria-label="The row">
      <thead>
        <tr>
          <th>{{ design.byVolume ? 'planned' : 'wanted' }}</th>
          <th>calculated</th>
          <th>read</th>
          <th>error</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in rows" :key="i" class="figure">
          <td>{{ r.target.toFixed(2) }}</td>
          <td>{{ r.calculated.text }}</td>
          <td>{{ r.measured?.text ?? '' }}</td>
          <td>{{ r.error }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="rows[0]?.error" class="small soft">
      Off the pH {{ design.byVolume ? 'planned' : 'wanted' }} by {{ rows[0].error }}.
    </p>
    <div class="gives">
      <p class="small soft">This gives · <kbd>=</kbd> shows the working</p>
      <p v-for="f in run.outcome.figures.slice(0, 8)" :key="f.id" class="also">
        <FigureText :figure="f" @explain="(id) => emit('explain', id)" /> <span class="small soft">{{ f.label }}</span>
      </p>
      <p v-if="run.outcome.figures.length === 0" class="soft">
        The figures stand here once everything is in.
        <el-button link type="primary" @click="emit('explain', 'plan')">How the recipe came about</el-button>
      </p>
    </div>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: 6.5rem 1fr;
  gap: 1rem;
  align-items: center;
}
.liquid {
  fill: var(--liquid);
}
.glass {
  fill: none;
  stroke: var(--glass);
  stroke-width: 2;
}
.mark {
  stroke: var(--ink-soft);
}
.stem {
  fill: none;
  stroke: var(--ink-soft);
}
.bulb {
  fill: var(--sheet);
  stroke: var(--ink-soft);
}
.large {
  font-size: 1.75rem;
  font-weight: 700;
  line-height: 1.1;
  margin: 0;
  white-space: nowrap;
}
.causes ol {
  padding-left: 1.2rem;
  margin: 0 0 0.8rem;
}
.causes .small {
  display: block;
}
table {
  border-collapse: collapse;
  width: 100%;
  margin-bottom: 0.8rem;
}
th,
td {
  text-align: left;
  padding: 0.2rem 0.6rem 0.2rem 0;
  border-bottom: 1px solid var(--line);
}
th {
  font-weight: 400;
  font-size: 0.87rem;
  color: var(--ink-soft);
}
.gives {
  border-top: 1px solid var(--line);
  padding-top: 0.7rem;
  margin-top: 0.6rem;
}
.also {
  margin: 0.2rem 0;
}
</style>
