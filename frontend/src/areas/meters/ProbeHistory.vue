<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type LabMeter, type MeterHistory, type PastCalibration } from '@/api/client'
import { newId } from '@/api/id'
import { useForm } from '@/bench/useForm'
import TextField from '@/bench/TextField.vue'
import { useLook } from '@/bench/useLook'
import { day, when } from '@/design/time'

/** What became of a probe over the weeks: slope, offset and response, and what was done to it. */
const props = defineProps<{ meter: LabMeter }>()
const history = ref<MeterHistory>()
const what = ref('')
const { busy, says, send } = useForm()

const { trouble, look } = useLook(async () => {
  const { id } = props.meter
  history.value = await ask(api.GET('/meters/{id}/history', { params: { path: { id } } }))
}, ['setup', 'calibration', 'readings'])
watch(() => props.meter.id, look)

async function add() {
  const body = { id: newId(), what: what.value }
  if (await send(() => ask(api.POST('/meters/{id}/care', { params: { path: { id: props.meter.id } }, body }))))
    what.value = ''
}

const figureOf = (c: PastCalibration, role: string) => c.figures.find((f) => f.role === role)
const courses = [
  { role: 'slope', label: 'slope, %', low: 90, high: 103, marks: [92, 95, 102] },
  { role: 'offset', label: 'offset, mV', low: -35, high: 35, marks: [-15, 0, 15] },
  { role: 'time constant', label: 'time constant, s', low: 0, high: 20, marks: [0, 10] },
]
const width = 300
const height = 84
const from = computed(() => Date.parse(history.value?.calibrations[0]?.at ?? ''))
const to = computed(() => Date.parse(history.value?.calibrations.at(-1)?.at ?? ''))
const x = (at: string) =>
  to.value > from.value ? 34 + ((width - 44) * (Date.parse(at) - from.value)) / (to.value - from.value) : width / 2
const within = (at: string) => Date.parse(at) >= from.value && Date.parse(at) <= to.value
function yOf(course: (typeof courses)[number]) {
  const values = (history.value?.calibrations ?? [])
    .map((c) => figureOf(c, course.role)?.value)
    .filter((v) => v !== undefined)
  const low = Math.min(course.low, ...values)
  const high = Math.max(course.high, ...values)
  return (value: number) => 6 + ((height - 12) * (high - value)) / (high - low)
}
</script>

<template>
  <section class="history" :aria-label="`History of ${meter.meter.name}`">
    <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
    <template v-if="history">
      <p v-if="history.calibrations.length === 0" class="soft">
        No calibration yet: slope, offset and response will stand here, week by week.
      </p>
      <div v-else class="courses">
        <figure v-for="course in courses" :key="course.role">
          <figcaption>{{ course.label }}</figcaption>
          <svg :viewBox="`0 0 ${width} ${height}`" role="img" :aria-label="`${course.label} over time`">
            <g v-for="mark in course.marks" :key="mark">
              <line x1="34" :x2="width - 6" :y1="yOf(course)(mark)" :y2="yOf(course)(mark)" class="mark" />
              <text x="29" :y="yOf(course)(mark) + 4" text-anchor="end">{{ String(mark).replace('-', '−') }}</text>
            </g>
            <template v-for="c in history.care" :key="c.at">
              <line v-if="within(c.at)" :x1="x(c.at)" :x2="x(c.at)" y1="4" :y2="height - 4" class="care" />
            </template>
            <template v-for="c in history.calibrations" :key="c.runId">
              <circle
                v-if="figureOf(c, course.role)"
                :cx="x(c.at)"
                :cy="yOf(course)(figureOf(c, course.role)!.value)"
                r="3.6"
              />
            </template>
          </svg>
        </figure>
      </div>
      <div class="lists">
        <table v-if="history.calibrations.length" class="plain">
          <thead>
            <tr>
              <th>Calibrated</th>
              <th>Slope</th>
              <th>Offset</th>
              <th>Time constant</th>
              <th>By</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in [...history.calibrations].reverse().slice(0, 8)" :key="c.runId">
              <td>
                <RouterLink :to="`/runs/${c.runId}`">{{ when(c.at) }}</RouterLink>
              </td>
              <td v-for="role in ['slope', 'offset', 'time constant']" :key="role" class="figure">
                {{ figureOf(c, role) ? `${figureOf(c, role)!.text} ${figureOf(c, role)!.unit}` : '–' }}
              </td>
              <td>{{ c.by }}</td>
            </tr>
          </tbody>
        </table>
        <div>
          <h3>Done to the probe</h3>
          <ul v-if="history.care.length">
            <li v-for="c in [...history.care].reverse()" :key="c.at">
              {{ day(c.at) }} {{ c.what }} <span class="small soft">{{ c.probe }}, {{ c.by }}</span>
            </li>
          </ul>
          <p v-else class="soft">Nothing yet: cleaned, refilled, reconditioned.</p>
          <form @submit.prevent="add">
            <TextField v-model="what" words label="What was done now" :problem="says" />
            <el-button native-type="submit" :disabled="busy || !what.trim()">Record it</el-button>
          </form>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.courses {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(15rem, 1fr));
  gap: 0.6rem 1.4rem;
}
figure {
  margin: 0;
}
figcaption {
  font-size: 0.87rem;
  color: var(--ink-soft);
}
svg {
  width: 100%;
  background: var(--sheet);
  border: 1px solid var(--line);
}
text {
  font-family: var(--mono);
  font-size: 10px;
  fill: var(--ink-soft);
}
.mark {
  stroke: var(--line);
}
.care {
  stroke: var(--amber);
  stroke-dasharray: 3 3;
}
circle {
  fill: var(--green);
}
.lists {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 1.6rem;
  margin-top: 0.6rem;
}
ul {
  padding-left: 1.1rem;
  margin: 0.2rem 0 0.6rem;
}
form {
  display: flex;
  gap: 0.7rem;
  align-items: center;
}
form > :first-child {
  flex: 1;
}
@media (max-width: 900px) {
  .lists {
    grid-template-columns: 1fr;
  }
}
</style>
