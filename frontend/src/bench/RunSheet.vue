<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { NewFact, Run } from '@/api/client'
import { clock } from '@/design/time'
import FactLines from './FactLines.vue'
import { useKeys } from './keys'
import { useDigits } from './useDigits'
import StepClock from './StepClock.vue'
import StepInput from './StepInput.vue'
import VerdictLine from './VerdictLine.vue'

/** One column of steps: done ones folded to a line, the one at hand open and
 * large, coming ones quiet. Which steps there are, and what they ask and say, the
 * core decides. */
const props = defineProps<{
  run: Run
  busy?: boolean
  /** What was wrong with what was stated last, and which fact that was to replace: none of the step at hand. */
  problems: Map<string, string>
  about: string
}>()
const emit = defineEmits<{ state: [fact: Omit<NewFact, 'id'>] }>()

/** A void run goes nowhere: what would have come is left out. */
const steps = computed(() =>
  props.run.outcome.status === 'void'
    ? props.run.outcome.steps.filter((s) => s.state !== 'coming' || s.facts?.length)
    : props.run.outcome.steps,
)
const unfolded = ref('')
const now = computed(() => props.run.outcome.steps.find((s) => s.state === 'now'))
const byId = computed(() => new Map(props.run.facts.map((line) => [line.fact.id, line.fact])))
const lastOf = (ids: string[] | undefined) => byId.value.get(ids?.at(-1) ?? '')
/** A new field for every new state of a step. */
const inputKey = computed(() => `${now.value?.id} ${props.run.facts.length}`)

function pick(index: number) {
  const step = now.value
  if (!step || props.busy) return
  const choices = step.verdicts?.flatMap((v) => v.choices ?? []) ?? []
  if (choices[index]) emit('state', { kind: 'decided', choice: choices[index].id, part: step.part })
  else if (choices.length === 0 && step.asks && step.input === 'choice' && step.options?.[index])
    emit('state', { kind: step.kind, choice: step.options[index].id, part: step.part })
}
const strayed = useDigits(5, pick)

/** Ends what goes on as long as somebody likes: trials, additions, counts. */
function end() {
  const step = now.value
  if (step?.ends && !props.busy) emit('state', { kind: 'decided', choice: step.ends.id, part: step.part })
}
/** By key only where nothing is typed that would be lost. */
function endByKey() {
  const field = document.activeElement
  if (field instanceof HTMLInputElement && field.value.trim() && field.value !== now.value?.default) return
  end()
}
useKeys([{ key: 'ctrl enter', does: 'enough of it: go on to what comes next', act: endByKey }])
watch(inputKey, () => (strayed.value = ''))
</script>

<template>
  <ol class="sheet" aria-label="Run sheet">
    <li
      v-for="(step, i) in steps"
      :key="step.id"
      :class="['step', step.state]"
      :aria-current="step.state === 'now' ? 'step' : undefined"
    >
      <span class="number figure">{{ i + 1 }}</span>
      <div class="body">
        <template v-if="step.state === 'done'">
          <div class="folded">
            <button
              type="button"
              class="summary"
              :aria-expanded="unfolded === step.id"
              @click="unfolded = unfolded === step.id ? '' : step.id"
            >
              {{ step.summary }}
            </button>
            <span v-if="lastOf(step.facts)" class="small soft stamp">
              {{ lastOf(step.facts)!.by }} {{ clock(lastOf(step.facts)!.at) }}
            </span>
          </div>
          <template v-for="v in step.verdicts" :key="v.sentence">
            <VerdictLine v-if="v.level !== 'fine' || unfolded === step.id" :verdict="v" />
          </template>
          <FactLines v-if="unfolded === step.id" :step="step" :facts="run.facts" />
        </template>

        <template v-else-if="step.state === 'now'">
          <h2>{{ step.title }}</h2>
          <p v-if="step.hint" class="soft">{{ step.hint }}</p>
          <p v-if="step.summary && !step.verdicts?.length" class="small soft">{{ step.summary }}</p>
          <details v-if="step.cautions?.length" class="cautions" open>
            <summary>Cautions</summary>
            <ul>
              <li v-for="caution in step.cautions" :key="caution">{{ caution }}</li>
            </ul>
          </details>
          <StepClock v-if="step.clock" :key="step.clock.since" :clock="step.clock" />
          <StepInput
            v-if="step.asks"
            :key="inputKey"
            :step="step"
            :busy="busy"
            :problems="about ? undefined : problems"
            big
            @state="(fact) => emit('state', { ...fact, kind: step.kind, part: step.part })"
          />
          <p v-if="step.ends" class="ends">
            <el-button :disabled="busy" @click="end">{{ step.ends.label }} <kbd>Ctrl Enter</kbd></el-button>
          </p>
          <p v-if="strayed" class="problem" role="alert">
            “{{ strayed }}” was not taken: a choice comes first. Choose, then type it into its field.
          </p>
          <VerdictLine
            v-for="(v, k) in step.verdicts"
            :key="`${inputKey} ${v.sentence}`"
            :verdict="v"
            :busy="busy"
            numbered
            :autofocus="k === 0 && !step.asks"
            @choose="(choice) => emit('state', { kind: 'decided', choice, part: step.part })"
          />
          <p v-if="problems.get('/kind')" class="problem" role="alert">{{ problems.get('/kind') }}</p>
          <FactLines v-if="step.facts?.length && (!step.asks || step.ends)" :step="step" :facts="run.facts" />
        </template>

        <span v-else class="title">{{ step.title }}</span>
      </div>
    </li>
  </ol>
</template>

<style scoped>
.sheet {
  list-style: none;
  margin: 1rem 0 0;
  padding: 0;
}
.step {
  display: grid;
  grid-template-columns: 2.4rem minmax(0, 1fr);
  border-top: 1px solid var(--line);
  padding: 0.6rem 0;
}
.number {
  color: var(--ink-soft);
  font-size: 0.9rem;
  padding-top: 0.1rem;
}
.done .number {
  color: var(--green);
}
.coming {
  color: var(--ink-soft);
}
/* On paper stands what was done. */
@media print {
  .coming {
    display: none;
  }
}
.now {
  border: 1.5px solid var(--green);
  border-left-width: 5px;
  border-radius: 3px;
  background: var(--sheet);
  padding: 0.9rem 1rem 0.7rem 0.6rem;
  margin: 0.4rem 0 0.4rem -0.8rem;
}
.now .number {
  font-weight: 700;
  padding-top: 0.25rem;
}
.now h2 {
  margin: 0;
  font-size: 1.3rem;
}
.folded {
  display: flex;
  gap: 1rem;
  justify-content: space-between;
  align-items: baseline;
}
.summary {
  font: inherit;
  color: inherit;
  text-align: left;
  background: none;
  border: 0;
  padding: 0.1rem 0;
  cursor: pointer;
  overflow-wrap: anywhere;
}
.summary:hover {
  text-decoration: underline;
}
.stamp {
  white-space: nowrap;
}
.ends {
  margin: 0.7rem 0 0.3rem;
}
.cautions {
  border-left: 3px solid var(--amber);
  background: var(--amber-tint);
  padding: 0.4rem 0.8rem;
  margin: 0.5rem 0;
  font-size: 0.93rem;
}
.cautions summary {
  font-weight: 700;
  cursor: pointer;
}
.cautions ul {
  margin: 0.2rem 0 0;
  padding-left: 1.1rem;
}
.cautions li {
  display: list-item;
}
</style>
