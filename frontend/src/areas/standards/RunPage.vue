<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, ProblemError, sentence, type NewFact, type Run } from '@/api/client'
import { onChange } from '@/api/events'
import { newId } from '@/api/id'
import { useOutbox } from '@/api/outbox'
import BudgetBars from '@/bench/BudgetBars.vue'
import FlaskDrawing from '@/bench/FlaskDrawing.vue'
import { useBench } from '@/bench/bench'
import { useWorking } from '@/bench/useWorking'
import { useLive } from '@/bench/live'
import PanScale from '@/bench/PanScale.vue'
import RackPanel from '@/areas/dilutions/RackPanel.vue'
import RunSheet from '@/bench/RunSheet.vue'
import StandinPanel from '@/bench/StandinPanel.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import FigureText from '@/design/FigureText.vue'
import FormulaText from '@/design/FormulaText.vue'
import { when } from '@/design/time'

const props = defineProps<{ id: string }>()
const outbox = useOutbox()
const bench = useBench()
const router = useRouter()

const run = ref<Run>()
const trouble = ref('')
const says = ref('')
const problems = ref(new Map<string, string>())
const busy = ref(false)
const note = ref('')
const ending = ref(false)
const endReason = ref('')

async function look() {
  try {
    run.value = await ask(api.GET('/runs/{id}', { params: { path: { id: props.id } } }))
    trouble.value = ''
    void refresh()
  } catch (error) {
    trouble.value = sentence(error)
  }
}
onMounted(look)
watch(() => props.id, look)
onChange([`run ${props.id}`], () => {
  if (!busy.value) void look()
})

/** The problems that the run sheet shows beside what caused them. */
const besideTheField = ['/quantity', '/after', '/count', '/date', '/kind']

async function state(fact: Omit<NewFact, 'id'>) {
  if (!run.value || busy.value) return
  busy.value = true
  says.value = ''
  problems.value = new Map()
  try {
    const seen = run.value.facts.length
    run.value = await outbox.send(props.id, { ...fact, id: newId(), seen })
    void refresh()
  } catch (error) {
    if (error instanceof ProblemError && error.status === 422) problems.value = error.fields
    const beside = [...problems.value.keys()].some((field) => besideTheField.includes(field))
    if (!beside || fact.replaces || fact.kind === 'note') says.value = sentence(error)
    if (error instanceof ProblemError && error.status === 409) await look()
  } finally {
    busy.value = false
  }
}

const outcome = computed(() => run.value?.outcome)
const figures = computed(() => outcome.value?.figures ?? [])
const main = computed(() => figures.value[0])
const dilution = computed(() => run.value?.plan.kind === 'dilution')
watch(dilution, (is) => (bench.runArea = is ? '/dilutions' : '/standards'))
const notes = computed(() => run.value?.facts.filter((line) => line.fact.kind === 'note') ?? [])
const weighing = computed(() => outcome.value?.steps.some((s) => s.id.startsWith('weigh') && s.state !== 'done'))

const live = useLive()
/** The balance of the plan, when it is on the bench, connected, and its turn. */
const connected = computed(() => {
  const onBench = bench.bench?.balance
  const asked = outcome.value?.steps.some((s) => s.state === 'now' && s.input === 'mass')
  if (!asked || !onBench?.address || onBench.balance.name !== run.value?.plan.balance?.name) return undefined
  return { id: onBench.id, name: onBench.balance.name }
})
live.follow(connected)

/** Once seen to be a stand-in, its panel stays when the cable is pulled. */
const standin = ref(false)
watch(
  () => live.reading?.standin,
  (is) => {
    if (is) standin.value = true
  },
)

const batches = computed(() => run.value?.batches ?? [])
const batch = computed(() => (run.value?.summary.batch ?? 0) + 1)
const nextBatch = computed(() => batches.value.findIndex((b) => !b.runId))
const poolable = computed(() => batches.value.length > 1 && batches.value.every((b) => b.bottleId))

async function pool() {
  try {
    const bottles = batches.value.map((b) => b.bottleId!)
    const bottle = await ask(api.POST('/bottles/pool', { body: { id: newId(), bottles } }))
    await router.push(`/shelf/${bottle.id}`)
  } catch (error) {
    says.value = sentence(error)
  }
}

const { working, explain, refresh, close } = useWorking(
  () => (dilution.value ? (figures.value.at(-1)?.id ?? 'tube 1') : 'concentration'),
  async (figure) => ({
    title: figures.value.find((f) => f.id === figure)?.label ?? 'mass to weigh',
    lines: await ask(api.GET('/runs/{id}/working', { params: { path: { id: props.id }, query: { figure } } })),
  }),
  says,
)

async function addNote() {
  await state({ kind: 'note', text: note.value })
  if (!says.value) note.value = ''
}

async function again(which = run.value?.summary.batch ?? 0) {
  if (!run.value) return
  try {
    const next = await ask(api.POST('/runs', { body: { id: newId(), planId: run.value.plan.id, batch: which } }))
    await router.push(`/runs/${next.summary.id}`)
  } catch (error) {
    says.value = sentence(error)
  }
}
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">
    {{ trouble }} <el-button link type="primary" @click="look">Look again</el-button>
  </p>
  <p v-if="!run && !trouble" class="soft">Opening the run…</p>
  <div v-if="run && outcome" class="sheet-and-side" :class="{ 'wide-side': working }">
    <section>
      <h1>{{ run.plan.title }}</h1>
      <p class="soft">
        <template v-if="run.plan.volume && run.plan.recipe">
          <span class="figure">{{ run.plan.volume.value }} {{ run.plan.volume.unit }}</span>
          <template v-if="batches.length">, batch {{ batch }} of {{ batches.length }}</template> ·
          <FormulaText :pieces="run.plan.recipe.formula" />, {{ run.plan.recipe.molarMass.text }} g/mol, assay
          {{ Number((run.plan.assayPercent ?? 100).toPrecision(6)) }} % · {{ run.plan.recipe.with }} ·
        </template>
        run {{ run.summary.number }}, begun {{ when(run.summary.begun) }} by {{ run.summary.by }}
      </p>

      <div v-if="outcome.status === 'void'" class="ended stop" role="status">
        <h2>This run is void: {{ outcome.reason }}</h2>
        <p>
          It stays on record. Discard what is in the flask: ask what your local rules allow; licensed waste handling
          comes first.
        </p>
        <el-button type="primary" @click="again()">Begin again from the plan</el-button>
      </div>
      <div v-else-if="outcome.status === 'finished'" class="ended fine" role="status">
        <h2 v-if="dilution">Finished: the rack is on the <RouterLink to="/shelf">shelf</RouterLink></h2>
        <h2 v-else>Finished: the bottle is on the <RouterLink :to="`/shelf/${run.bottleId}`">shelf</RouterLink></h2>
        <p v-if="!outcome.exact">Approximate until standardised: what it was made from is no primary standard.</p>
        <RouterLink v-if="dilution" class="label-link" to="/shelf">Print the labels of the tubes</RouterLink>
        <RouterLink v-else class="label-link" :to="`/shelf/${run.bottleId}`">Print its label</RouterLink>
        <template v-if="batches.length">
          <p v-if="nextBatch >= 0">
            <el-button type="primary" @click="again(nextBatch)">Begin batch {{ nextBatch + 1 }}</el-button>
          </p>
          <p v-else-if="poolable">
            All {{ batches.length }} batches stand on the shelf.
            <el-button type="primary" @click="pool">Pour them together</el-button>
          </p>
        </template>
      </div>
      <p v-if="run.doubt" class="ended stop" role="status">{{ run.doubt }}</p>
      <nav v-if="batches.length" class="batches" aria-label="Batches">
        <template v-for="(b, i) in batches" :key="i">
          <strong v-if="b.runId === run.summary.id">Batch {{ i + 1 }}</strong>
          <RouterLink v-else-if="b.runId" :to="`/runs/${b.runId}`">Batch {{ i + 1 }}</RouterLink>
          <span v-else class="soft">Batch {{ i + 1 }}, to come</span>
        </template>
      </nav>
      <p v-if="says" class="problem" role="alert">{{ says }}</p>

      <RunSheet :run="run" :busy="busy" :problems="problems" @state="state" />

      <section class="foot no-print">
        <ul v-if="notes.length">
          <li v-for="line in notes" :key="line.fact.id">
            {{ line.fact.text }} <span class="soft small">{{ line.fact.by }} {{ when(line.fact.at) }}</span>
          </li>
        </ul>
        <form @submit.prevent="addNote">
          <label>Note for the record<el-input v-model="note" maxlength="2000" /></label>
          <el-button native-type="submit" :disabled="busy || !note.trim()">Add the note</el-button>
        </form>
        <template v-if="outcome.status === 'open'">
          <el-button v-if="!ending" link type="primary" @click="ending = true">Give this run up</el-button>
          <form v-else @submit.prevent="state({ kind: 'decided', choice: 'start-again', text: endReason })">
            <label>Why it is given up<el-input v-model="endReason" maxlength="300" /></label>
            <el-button native-type="submit" :disabled="busy">Make it void</el-button>
            <el-button link @click="ending = false">Go on with it</el-button>
          </form>
        </template>
      </section>
    </section>

    <aside aria-label="Vessel and result">
      <WorkingPanel v-if="working" :lines="working.lines" :title="working.title" @close="close" />
      <RackPanel
        v-else-if="dilution"
        :run="run"
        :busy="busy"
        @explain="explain"
        @redo="(part) => state({ kind: 'decided', choice: 'redo-stage', part })"
      />
      <template v-else-if="outcome.vessel">
        <PanScale
          v-if="weighing || outcome.status === 'void'"
          :vessel="outcome.vessel"
          :live="live.reading?.text ? live.reading.grams : undefined"
        />
        <FlaskDrawing :vessel="outcome.vessel" />
        <div class="gives">
          <p class="small soft">This gives</p>
          <template v-if="main">
            <FigureText :figure="main" large @explain="explain" />
            <p class="small soft">k = 2, at 20 °C · <kbd>=</kbd> shows the working</p>
            <BudgetBars :figure="main" />
            <p v-for="f in figures.slice(1)" :key="f.id" class="also">
              <FigureText :figure="f" @explain="explain" /> <span class="small soft">{{ f.label }}</span>
            </p>
          </template>
          <p v-else-if="outcome.status === 'void'" class="soft">Nothing: a void run has no concentration.</p>
          <p v-else class="soft">
            The concentration stands here once a mass is weighed.
            <el-button link type="primary" @click="explain('plan')">How the mass to weigh came about</el-button>
          </p>
        </div>
        <StandinPanel v-if="live.reading?.standin || (live.balance && standin)" />
      </template>
    </aside>
  </div>
</template>

<style scoped>
.batches {
  display: flex;
  flex-wrap: wrap;
  gap: 1.4rem;
  margin: 0.8rem 0;
}
.gives {
  border-top: 1px solid var(--line);
  padding-top: 0.8rem;
  margin-top: 0.8rem;
}
.gives > p {
  margin: 0.2rem 0;
}
.also {
  font-size: 0.92rem;
}
.ended {
  border-left: 5px solid var(--green);
  background: var(--green-tint);
  padding: 0.8rem 1.1rem;
  margin: 0.8rem 0;
}
.ended.stop {
  border-color: var(--red);
  background: var(--red-tint);
}
.ended h2 {
  margin: 0 0 0.3rem;
}
.label-link {
  font-weight: 700;
}
.foot {
  border-top: 1px solid var(--line);
  padding-top: 1rem;
}
.foot form {
  display: flex;
  gap: 0.7rem;
  align-items: end;
  margin-bottom: 0.6rem;
}
.foot label {
  flex: 1;
  font-size: 0.87rem;
  color: var(--ink-soft);
}
</style>
