<script setup lang="ts">
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import type { Run } from '@/api/client'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import ReadingCell from '@/bench/ReadingCell.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'
import SpeciesText from '@/design/SpeciesText.vue'
import BuretteDrawing from './BuretteDrawing.vue'
import DropsDrawing from './DropsDrawing.vue'
import ExpectedTrial from './ExpectedTrial.vue'

/** The burette as it stands, the trials side by side with the bracket round those that agree,
 * and what they give. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const view = computed(() => (props.run.outcome.view.kind === 'titration' ? props.run.outcome.view : undefined))
const hand = computed(() => view.value?.trials[view.value.atHand] ?? view.value?.trials.filter((t) => t.done).at(-1))
type Trial = NonNullable<typeof view.value>['trials'][number]
const shown = computed(() => view.value?.trials.filter((t) => t.done || t.start) ?? [])
// Of many trials the last ones are in sight.
const side = useTemplateRef('side')
watch(
  () => shown.value.length,
  async () => {
    await nextTick()
    if (side.value) side.value.scrollLeft = side.value.scrollWidth
  },
  { immediate: true },
)
const word = (t: Trial) => {
  if (!t.done) return 'at hand'
  if (t.setAside) return 'set aside'
  if (t.blank) return 'blank'
  if (t.used) return 'agrees'
  if (t.rough) return 'rough'
  return t.counts ? 'counts' : 'apart'
}
const plan = computed(() => (props.run.plan.kind === 'titration' ? props.run.plan.design : undefined))
</script>

<template>
  <div v-if="view">
    <div v-if="shown.length === 0 && plan" class="gives">
      <ExpectedTrial :design="plan" />
      <p><SpeciesText :text="plan.ratio" />. Indicator: {{ plan.indicator || 'as you choose' }}.</p>
      <p v-for="note in plan.notes" :key="note" class="small soft">{{ note }}</p>
    </div>
    <div v-if="run.outcome.figures.length" class="gives">
      <p class="main">
        <FigureText :figure="run.outcome.figures[0]!" @explain="(id) => emit('explain', id)" />
      </p>
      <p class="small soft"><SpeciesText :text="run.outcome.figures[0]!.label" /></p>
      <p v-for="f in run.outcome.figures.slice(1)" :key="f.id" class="also">
        <FigureText :figure="f" @explain="(id) => emit('explain', id)" />{{ ' ' }}
        <span class="small soft"><SpeciesText :text="f.label" /></span>
      </p>
    </div>
    <div v-if="shown.length" ref="side" class="side-by-side" tabindex="0" role="group" aria-label="Trials side by side">
      <table class="trials">
        <caption class="small soft">
          Trials{{
            view.mean ? `; mean of those that agree ${view.mean} mL, s ${view.sd} mL` : ''
          }}
        </caption>
        <thead>
          <tr>
            <th></th>
            <th v-for="t in shown" :key="t.n" :class="{ used: t.used }">{{ t.n }}</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th>sample</th>
            <td v-for="t in shown" :key="t.n" :class="{ used: t.used, out: t.setAside }">
              <ReadingCell :fact="t.facts.sample" what="the sample" :text="t.sample" />
            </td>
          </tr>
          <tr v-if="!view.drop">
            <th>before</th>
            <td v-for="t in shown" :key="t.n" :class="{ used: t.used, out: t.setAside }">
              <ReadingCell :fact="t.facts.start" what="the reading before" :text="t.start" />
            </td>
          </tr>
          <tr>
            <th>{{ view.drop ? 'drops' : 'after' }}</th>
            <td v-for="t in shown" :key="t.n" :class="{ used: t.used, out: t.setAside }">
              <ReadingCell :fact="t.facts.last" what="the reading after" :text="t.last" />
            </td>
          </tr>
          <CorrectionHere :facts="shown.flatMap((t) => Object.values(t.facts))" :columns="shown.length + 1" />
          <tr v-if="shown.some((t) => t.earlier)">
            <th>before filling up, mL</th>
            <td v-for="t in shown" :key="t.n" :class="{ used: t.used, out: t.setAside }">{{ t.earlier }}</td>
          </tr>
          <tr v-if="shown.some((t) => t.first)">
            <th>first, mL</th>
            <td v-for="t in shown" :key="t.n" :class="{ used: t.used, out: t.setAside }">{{ t.first }}</td>
          </tr>
          <tr class="titre">
            <th>mL</th>
            <td v-for="t in shown" :key="t.n" :class="{ used: t.used, out: t.setAside }">{{ t.titre }}</td>
          </tr>
          <tr>
            <th></th>
            <td v-for="t in shown" :key="t.n" :class="{ used: t.used }" class="word" :title="t.setAside">
              {{ word(t) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <DropsDrawing v-if="view.drop && hand?.start" :count="hand.to" :expected="view.expected" :dark="view.dark" />
    <BuretteDrawing
      v-else-if="hand?.start"
      :scale="view.scale"
      :division="view.division"
      :from="hand.from"
      :to="hand.to"
      :expected="view.expected"
      :dark="view.dark"
      :left="view.device === 'syringe'"
    />
    <template v-if="run.outcome.status !== 'open'">
      <VerdictLine v-for="v in view.verdicts" :key="v.sentence" :verdict="v" />
    </template>
  </div>
</template>

<style scoped>
.gives {
  margin-bottom: 0.8rem;
}
.main {
  font-size: 1.15rem;
  margin: 0;
}
.also {
  margin: 0.2rem 0;
}
.side-by-side {
  overflow-x: auto;
  margin-bottom: 1rem;
}
.trials {
  border-collapse: collapse;
}
td {
  white-space: nowrap;
}
caption {
  text-align: left;
  padding-bottom: 0.3rem;
}
th {
  font-weight: 400;
  font-size: 0.87rem;
  color: var(--ink-soft);
  text-align: right;
}
td {
  font-family: var(--mono);
}
th,
td {
  text-align: right;
  padding: 0.15rem 0.35rem;
}
.titre td {
  font-weight: 700;
}
.word {
  font: 0.8rem var(--text);
}
td.out {
  color: var(--ink-soft);
  text-decoration: line-through;
}
/* The bracket round the trials that agree. */
.used {
  background: var(--green-tint);
}
thead .used {
  border-top: 2px solid var(--green);
}
tbody tr:last-child .used {
  border-bottom: 2px solid var(--green);
}
</style>
