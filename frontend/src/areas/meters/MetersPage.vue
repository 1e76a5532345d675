<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Buffer, type CalibrationDesign, type LabMeter, type Settings } from '@/api/client'
import { useBench } from '@/bench/bench'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useAnswer } from '@/bench/useAnswer'
import VerdictLine from '@/bench/VerdictLine.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'
import { useTyped } from '@/bench/useTyped'
import { clock, when } from '@/design/time'
import DependentsList from '@/bench/DependentsList.vue'
import ExpectedLine from './ExpectedLine.vue'
import PHScale from './PHScale.vue'
import ProbeHistory from './ProbeHistory.vue'
import { questionOf, typedQuestion } from './question'

/** The meters and probes as they stand, and which one to calibrate in which buffers. */
const bench = useBench()
const meters = shallowRef<LabMeter[]>()
const library = shallowRef<Buffer[]>([])
const settings = shallowRef<Settings>()
const opened = ref('') // the ID of the meter whose history is open
const { typed } = useTyped('calibration', typedQuestion, [])

const meter = computed(() => meters.value?.find((m) => m.id === typed.value.meter))
const celsius = computed(() => typed.value.celsius || String(bench.bench?.waterTemperature ?? 20))
const asks = () => (meter.value && settings.value ? questionOf(typed.value, library.value, celsius.value) : undefined)
const { answer, problems, problem, trouble, busy, computeSoon, take } = useAnswer<
  NonNullable<ReturnType<typeof asks>>,
  CalibrationDesign
>(asks, (question, signal) =>
  ask(
    api.POST('/compute/calibration', {
      body: { ...question, meter: meter.value!.meter, thresholds: settings.value!.thresholds },
      signal,
    }),
  ),
)
const { look } = useLook(
  async () => {
    const [list, buffers, rules] = await Promise.all([
      ask(api.GET('/meters')),
      ask(api.GET('/buffers')),
      ask(api.GET('/settings')),
      bench.known(),
    ])
    meters.value = list
    library.value = buffers
    settings.value = rules
    if (!list.some((m) => m.id === typed.value.meter)) typed.value.meter = bench.bench?.meter?.id ?? list[0]?.id ?? ''
  },
  ['setup', 'calibration', 'readings', 'bench'],
  trouble,
)
watch(typed, computeSoon, { deep: true, immediate: true })
watch([meters, library, settings, celsius], computeSoon)
const toTheBench = () =>
  take((question, id) => ({ id, kind: 'calibration', question: { ...question, meter: typed.value.meter } }))

const checkDue = ({ standing }: LabMeter) =>
  Date.parse(standing.checkBy) > Date.now()
    ? `check one buffer by ${clock(standing.checkBy)}`
    : `a check of one buffer is due since ${clock(standing.checkBy)}`
const shown = (m: LabMeter) => m.meter.showsPH
const names = computed(() => (meters.value ?? []).map((m) => [m.id, m.meter.name] as const))
const choices = computed(() => [
  ...library.value.map((b) => [b.key, `${valueAt25(b)}  ${b.name}`] as const),
  ['own', 'a bottle with its own value'] as const,
  ['', 'none'] as const,
])
const valueAt25 = (b: Buffer) => Number(b.table?.find((v) => v.celsius === 25)?.pH ?? 0).toFixed(3)
/** The buffers that are there, and one place more. */
const places = computed(() => {
  const used = Math.max(...typed.value.buffers.map((key, i) => (key ? i + 1 : 0)))
  return Array.from({ length: Math.min(typed.value.buffers.length, used + 1) }, (_, i) => i)
})
const bufferProblem = (i: number) =>
  [...problems.value].find(([field]) => field.startsWith(`/buffers/${asked(i)}`))?.[1] ?? ''
/** Takes one more buffer. */
function add(key: string) {
  const free = typed.value.buffers.indexOf('')
  if (free >= 0) typed.value.buffers[free] = key
}
/** The place of a field among the buffers that are asked for. */
const asked = (i: number) => typed.value.buffers.slice(0, i).filter(Boolean).length
</script>

<template>
  <div :class="{ 'sheet-and-side': meter }">
    <section>
      <h1>Which meter can you trust today?</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <p v-if="meters?.length === 0" class="soft">
        No pH meter yet. <RouterLink to="/setup/meters">Add the first one</RouterLink>: it goes onto the bench, and its
        calibrations and probe are kept here.
      </p>
      <div v-if="meters?.length" class="meters">
        <article v-for="m in meters" :key="m.id" :aria-label="m.meter.name">
          <header>
            <h2>{{ m.meter.name }}</h2>
            <span class="small soft"
              >{{ m.meter.probe || 'no probe named' }}{{ shown(m) ? ', shows pH' : ''
              }}{{ m.address ? ', connected' : '' }}</span
            >
          </header>
          <VerdictLine :verdict="m.standing.verdict" />
          <template v-if="m.newest">
            <PHScale :low="m.newest.low" :high="m.newest.high" :points="m.newest.points" />
            <p class="figures">
              <span v-for="f in m.newest.figures.filter((f) => f.role)" :key="f.id" class="figure"
                >{{ f.label.replace(' of the slowest point', '') }} {{ f.text }}&#8239;{{ f.unit }}</span
              >
            </p>
            <p class="small soft">
              <RouterLink :to="`/runs/${m.newest.runId}`">Run {{ m.newest.number }}</RouterLink
              >, {{ when(m.newest.at) }} by {{ m.newest.by
              }}<template v-if="m.standing.hoursLeft > 0"> · {{ checkDue(m) }}</template>
            </p>
          </template>
          <p v-for="run in m.open" :key="run.id" class="small">
            Being calibrated by {{ run.by }} since {{ when(run.begun) }}:
            <RouterLink :to="`/runs/${run.id}`">go on with run {{ run.number }}</RouterLink
            >.<template v-if="m.newest"> Until it is in use, run {{ m.newest.number }} holds.</template>
          </p>
          <el-button
            link
            type="primary"
            :aria-expanded="opened === m.id"
            @click="opened = opened === m.id ? '' : m.id"
            >{{ opened === m.id ? 'Close the history' : 'History of the probe' }}</el-button
          >
        </article>
      </div>
      <template v-for="m in (meters ?? []).filter((m) => m.id === opened)" :key="m.id">
        <ProbeHistory :meter="m" />
        <DependentsList :instrument="m.meter.name" />
      </template>

      <section v-if="meter" class="question" aria-label="Calibrate">
        <h2>Calibrate</h2>
        <form v-first @submit.prevent="toTheBench">
          <div class="fields">
            <SelectField v-model="typed.meter" label="Meter" :options="names" />
            <TextField
              v-model="typed.celsius"
              :label="`Temperature, °C (bench: ${bench.bench?.waterTemperature ?? 20})`"
              :problem="problem('/celsius')"
            />
            <TextField v-model="typed.low" label="Samples from pH" :problem="problem('/low')" />
            <TextField v-model="typed.high" label="to pH" :problem="problem('/high')" />
          </div>
          <ol class="buffers" aria-label="Buffers, in the order in which they are taken">
            <li v-for="i in places" :key="i">
              <SelectField
                v-model="typed.buffers[i]!"
                :label="`Buffer ${i + 1}`"
                :options="choices"
                :problem="bufferProblem(i)"
              />
              <TextField
                v-if="typed.buffers[i]"
                v-model="typed.opened[i]!"
                label="Opened on"
                placeholder="2026-10-01"
              />
              <div v-if="typed.buffers[i] === 'own'" class="own">
                <TextField v-model="typed.own[i]!.name" words label="Name on the bottle" />
                <TextField v-model="typed.own[i]!.pH" label="pH" />
                <TextField v-model="typed.own[i]!.celsius" label="at °C" />
                <TextField v-model="typed.own[i]!.limits" label="± pH" />
              </div>
            </li>
          </ol>
          <p v-if="problem('/buffers')" class="problem">{{ problem('/buffers') }}</p>
          <el-button type="primary" native-type="submit" :disabled="busy || problems.size > 0"
            >Take it to the bench <kbd>Enter</kbd></el-button
          >
        </form>
      </section>
    </section>
    <aside v-if="meter" aria-label="What it would be" aria-live="polite">
      <ExpectedLine v-if="answer" :design="answer" :celsius="celsius" :stale="problems.size > 0" @add="add" />
      <p v-else class="soft">
        {{ problems.size > 0 ? 'The answer appears here once the question is clear.' : 'Working it out…' }}
      </p>
    </aside>
  </div>
</template>

<style scoped>
.meters {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(19rem, 1fr));
  gap: 1rem 1.6rem;
}
article {
  border-top: 3px solid var(--line-strong);
  padding-top: 0.6rem;
}
header {
  display: flex;
  gap: 0.8rem;
  align-items: baseline;
}
header h2 {
  margin: 0;
}
.figures {
  font-size: 0.92rem;
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.2rem;
  margin: 0.2rem 0;
}
article p {
  margin: 0.2rem 0;
}
.question {
  border-top: 1px solid var(--line);
  margin-top: 1.4rem;
  padding-top: 1rem;
}
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.4rem 1.2rem;
}
.buffers {
  list-style: none;
  padding: 0;
  margin: 0;
}
.buffers li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 8rem;
  gap: 0 1rem;
}
.own {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 5rem 5rem 5rem;
  gap: 0 0.8rem;
  border-left: 3px solid var(--line);
  padding-left: 0.8rem;
}
</style>
