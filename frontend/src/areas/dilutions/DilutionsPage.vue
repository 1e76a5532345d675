<script setup lang="ts">
import { useDebounceFn, useLocalStorage } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import {
  api,
  ask,
  ProblemError,
  sentence,
  type Bottle,
  type DilutionAnswer,
  type DilutionQuestion,
  type Figure,
  type LabGlass,
  type LabSubstance,
  type Settings,
} from '@/api/client'
import { latest } from '@/api/latest'
import { onChange } from '@/api/events'
import { newId } from '@/api/id'
import { useBench } from '@/bench/bench'
import BudgetBars from '@/bench/BudgetBars.vue'
import { useWorking } from '@/bench/useWorking'
import QuantityField from '@/bench/QuantityField.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import FigureText from '@/design/FigureText.vue'
import LadderDrawing from './LadderDrawing.vue'
import OneStep from './OneStep.vue'

type Mode = DilutionQuestion['mode']
type Objective = NonNullable<DilutionQuestion['objective']>

const bench = useBench()
/** The question as it is typed; it outlives a reload. */
const typed = useLocalStorage(
  'vialbench-dilution',
  {
    bottle: '',
    stock: '0.1000 mol/L',
    stockKnown: '',
    mode: 'chain' as Mode,
    wanted: '1 in 100',
    volume: '100',
    steps: '2',
    maxLiquid: '',
    maxStock: '',
    objective: 'uncertainty' as Objective,
    list: '0 1 2 3 4 5',
    as: 'volumes' as 'volumes' | 'targets' | 'even' | 'factor',
    from: '0',
    to: '0.05',
    count: '6',
    each: '5',
    into: 'tubes' as 'tubes' | 'flasks',
    portions: 'measured' as 'measured' | 'weighed',
    density: '',
    densityLimits: '',
    factors: ['10', '10', '10'],
    keep: '20',
    rinse: '5',
  },
  { mergeDefaults: true },
)
const bottles = ref<Bottle[]>([])
const glass = ref<LabGlass[]>([])
const substances = ref<LabSubstance[]>([])
/** Concentrated reagents, which a dilution may start from. */
const liquids = computed(() => substances.value.filter((s) => s.molarity))
const settings = ref<Settings>()
const stock = ref<DilutionQuestion['stock']>()
const answer = ref<DilutionAnswer>()
const problems = ref(new Map<string, string>())
const trouble = ref('')
const route = ref(0)
const picked = ref(0)
const measured = ref({ value: '', limits: '' })
const back = ref<Figure>()
const backSays = ref('')
const modes: { value: Mode; label: string }[] = [
  { value: 'one', label: 'One concentration' },
  { value: 'series', label: 'A series side by side' },
  { value: 'chain', label: 'A chain' },
]

async function look() {
  try {
    const [page, owned, rules, list] = await Promise.all([
      ask(api.GET('/bottles')),
      ask(api.GET('/glass')),
      ask(api.GET('/settings')),
      ask(api.GET('/substances')),
      bench.bench ? undefined : bench.look(),
    ])
    bottles.value = page.items.filter((b) => b.state === 'shelf' && b.concentration.value > 0)
    glass.value = owned
    substances.value = list
    settings.value = rules
    trouble.value = ''
    await readStock()
  } catch (error) {
    trouble.value = sentence(error)
  }
}
onMounted(look)
onChange(['setup', 'shelf', 'bench'], look)

const stocks = computed((): [string, string][] => [
  ['', 'a stock of this strength'],
  ...liquids.value.map((s): [string, string] => [`liquid ${s.substance.key}`, s.substance.name]),
  ...bottles.value.map((b): [string, string] => [b.id, `bottle ${b.number}: ${b.title}, ${b.left.toFixed(0)} mL`]),
])

const reading = latest()
/** The stock: a bottle with all that is known of it, or a concentration as typed. */
async function readStock() {
  const current = reading()
  const bottle = bottles.value.find((b) => b.id === typed.value.bottle)
  if (bottle) {
    const { value, contributions, unit } = bottle.concentration
    stock.value = {
      name: bottle.name,
      number: bottle.number,
      formula: bottle.formula,
      unit,
      concentration: { value, contributions },
      bottle: bottle.id,
      left: bottle.left,
    }
    return
  }
  const liquid = liquids.value.find((s) => `liquid ${s.substance.key}` === typed.value.bottle)
  if (liquid?.molarity) {
    stock.value = {
      name: liquid.substance.name,
      formula: liquid.pieces,
      unit: 'mol/L',
      concentration: liquid.molarity,
      concentrate: true,
      key: liquid.substance.key,
      density: liquid.substance.density,
      approximate: true,
      hazards: liquid.substance.hazards,
      signal: liquid.substance.signal,
    }
    return
  }
  typed.value.bottle = ''
  try {
    const { quantity } = await ask(
      api.POST('/compute/quantity', {
        body: {
          text: typed.value.stock.slice(0, 9999),
          unit: 'mol/L',
          dimensions: ['amount concentration', 'mass concentration', 'equivalents'],
        },
      }),
    )
    if (!current()) return
    stock.value = { name: 'the stock', unit: quantity.unit, concentration: { value: quantity.value } }
  } catch (error) {
    if (!current()) return
    stock.value = undefined
    answer.value = undefined
    if (!(error instanceof ProblemError)) trouble.value = sentence(error)
  }
}
const readStockSoon = useDebounceFn(readStock, 60)
watch(() => [typed.value.bottle, typed.value.stock], readStockSoon)

const number = (text: string) => Number(text.trim().replace(',', '.'))
const numbers = (text: string) =>
  text
    .split(/[\s;]+/)
    .filter(Boolean)
    .map(number)

function question(): DilutionQuestion | undefined {
  if (!stock.value || !settings.value) return undefined
  const t = typed.value
  const plain = /^[\d.,]+$/.test(t.wanted.trim()) || t.wanted.trim() === ''
  const list = numbers(t.list)
  const figures = new Map<string, number>([
    ['/keep', number(t.keep || '0')],
    ['/rinse', number(t.rinse || '0')],
    ['/maxLiquid', number(t.maxLiquid || '0')],
    ['/maxStock', number(t.maxStock || '0')],
    ...(t.bottle ? [] : ([['/stock/expanded', number(t.stockKnown || '0')]] as [string, number][])),
    ...(weighed.value && !stock.value.density
      ? ([
          ['/stock/density', number(t.density || '0')],
          ['/stock/densityLimits', number(t.densityLimits || '0')],
        ] as [string, number][])
      : []),
    ['/volume', t.mode === 'series' ? number(t.each) : number(t.volume || '0')],
    ...(t.mode === 'series' && listed.value ? list.map((x, i): [string, number] => [`/${t.as}/${i}`, x]) : []),
    ...(t.mode === 'series' && !listed.value
      ? ([
          ['/spread/from', number(t.from)],
          ['/spread/to', number(t.to)],
          ['/spread/count', number(t.count)],
        ] as [string, number][])
      : []),
  ])
  const wrong = [...figures].filter(([, x]) => Number.isNaN(x))
  if (wrong.length > 0) {
    problems.value = new Map(wrong.map(([field]) => [field, 'Write numbers, like 12.5']))
    return undefined
  }
  const common = {
    stock: {
      ...stock.value,
      expanded: figures.get('/stock/expanded'),
      density: figures.get('/stock/density') ?? stock.value.density,
      densityLimits: figures.get('/stock/densityLimits'),
    },
    weighed: weighed.value,
    balance: bench.bench?.balance?.balance,
    mode: t.mode,
    keep: t.mode === 'series' ? 0 : figures.get('/keep')!, // a tube of a series is kept whole
    rinse: figures.get('/rinse')!,
    volume: figures.get('/volume')!,
    glass: glass.value.map((g) => g.item),
    class: settings.value.flaskClass,
    waterTemperature: bench.bench?.waterTemperature ?? 20,
    thresholds: settings.value.thresholds,
  }
  if (t.mode === 'series')
    return {
      ...common,
      ...(listed.value
        ? { [t.as]: list }
        : {
            spread: {
              from: figures.get('/spread/from')!,
              to: figures.get('/spread/to')!,
              count: Math.round(figures.get('/spread/count')!),
              logarithmic: t.as === 'factor',
            },
          }),
      inFlasks: t.into === 'flasks',
    }
  if (t.mode === 'chain') return { ...common, volume: 0, factors: t.factors }
  return {
    ...common,
    ...(plain ? { target: number(t.wanted || '0') } : { factor: t.wanted.slice(0, 40) }),
    maxSteps: Number(t.steps),
    maxLiquid: figures.get('/maxLiquid')!,
    maxStock: figures.get('/maxStock')!,
    objective: t.objective,
    route: route.value,
  }
}

/** A series is listed tube by tube, or spread from one concentration to another. */
const listed = computed(() => typed.value.as === 'volumes' || typed.value.as === 'targets')
/** Portions are weighed into flasks only: two burettes measure by themselves. */
const weighed = computed(
  () => typed.value.portions === 'weighed' && !(typed.value.mode === 'series' && typed.value.into === 'tubes'),
)

const asked = latest()
async function compute() {
  const current = asked()
  const body = question()
  if (!body) return
  try {
    const got = await ask(api.POST('/compute/dilution', { body }))
    if (!current()) return
    // The last tube is what a ladder is for.
    if (got.ladder.tubes.length !== answer.value?.ladder.tubes.length) picked.value = got.ladder.tubes.length - 1
    answer.value = got
    problems.value = new Map()
    void refresh()
    back.value = undefined
  } catch (error) {
    if (!current()) return
    // What is wrong stands beside its field; the ladder stays on screen.
    if (error instanceof ProblemError && error.status === 422) problems.value = error.fields
    else trouble.value = sentence(error)
  }
}
const computeSoon = useDebounceFn(compute, 50)
watch([typed, stock, glass, settings, route, () => bench.bench], computeSoon, { deep: true })
watch(
  () => {
    const t = typed.value
    return [t.wanted, t.objective, t.steps, t.volume, t.maxLiquid, t.maxStock]
  },
  () => (route.value = 0),
)

const tube = computed(() => answer.value?.ladder.tubes[picked.value])
const stockText = computed(() => {
  const bottle = bottles.value.find((b) => b.id === typed.value.bottle)
  if (bottle) return bottle.concentration.text
  return stock.value ? String(Number(stock.value.concentration.value.toPrecision(4))) : ''
})

const { working, explain, refresh, close } = useWorking(
  () => tube.value?.concentration.id ?? '',
  async () => {
    if (!answer.value || !tube.value) return undefined
    const body = { request: answer.value.request, tube: picked.value }
    return { title: `tube ${tube.value.label}`, lines: await ask(api.POST('/compute/dilution/working', { body })) }
  },
  trouble,
)
watch(picked, () => {
  back.value = undefined
  void refresh()
})

async function undilute() {
  if (!answer.value) return
  backSays.value = ''
  back.value = undefined
  try {
    back.value = await ask(
      api.POST('/compute/back', {
        body: {
          request: answer.value.request,
          tube: picked.value,
          value: number(measured.value.value) || 0,
          limits: number(measured.value.limits || '0') || 0,
        },
      }),
    )
  } catch (error) {
    backSays.value = sentence(error)
  }
}

function setFactor(stage: number, text: string) {
  typed.value.factors = typed.value.factors.map((f, i) => (i === stage ? text : f))
}
const listProblem = computed(
  () => [...problems.value].find(([field]) => /^\/(targets|volumes)(\/|$)/.test(field))?.[1] ?? '',
)
const chainProblem = computed(() => {
  const hit = [...problems.value].find(([field]) => field.startsWith('/factors'))
  if (!hit) return ''
  const stage = /\/factors\/(\d+)/.exec(hit[0])
  return stage ? `Stage ${Number(stage[1]) + 1}: ${hit[1]}` : hit[1]
})
const problem = (...fields: string[]) => fields.map((f) => problems.value.get(f)).find(Boolean) ?? ''
const router = useRouter()
const busy = ref(false)
/** Keeps the plan and begins a run of it. */
async function take() {
  const body = question()
  if (!body || busy.value) return
  busy.value = true
  try {
    const plan = await ask(api.POST('/dilutions', { body: { id: newId(), question: body } }))
    const run = await ask(api.POST('/runs', { body: { id: newId(), planId: plan.id } }))
    await router.push(`/runs/${run.summary.id}`)
  } catch (error) {
    trouble.value = sentence(error)
  } finally {
    busy.value = false
  }
}
const percent = (x: number) => `${Number((100 * x).toPrecision(2))} %`
</script>

<template>
  <h1>What is on the shelf, and what is wanted?</h1>
  <p v-if="trouble" class="problem" role="alert">
    {{ trouble }} <el-button link type="primary" @click="look().then(compute)">Try again</el-button>
  </p>
  <nav class="tabs" aria-label="Kind of dilution">
    <button
      v-for="m in modes"
      :key="m.value"
      type="button"
      :aria-pressed="typed.mode === m.value"
      @click="typed.mode = m.value"
    >
      {{ m.label }}
    </button>
  </nav>
  <div class="fields">
    <SelectField
      v-model="typed.bottle"
      label="From"
      filterable
      :options="stocks"
      :problem="problem('/stock/concentration')"
    />
    <QuantityField
      v-if="!typed.bottle"
      v-model="typed.stock"
      label="Strength of the stock"
      unit="mol/L"
      :dimensions="['amount concentration', 'mass concentration', 'equivalents']"
      initial="0.1000 mol/L"
    />
    <TextField
      v-if="!typed.bottle"
      v-model="typed.stockKnown"
      :label="`known within ±, ${stock?.unit ?? ''}, k = 2`"
      placeholder="counts as exact"
      :problem="problem('/stock/expanded')"
    />
    <template v-if="typed.mode === 'one'">
      <TextField
        v-model="typed.wanted"
        words
        :label="`To (1 in 100, 1 + 99, or a figure in ${stock?.unit ?? 'its unit'})`"
        :problem="problem('/factor', '/target')"
      />
      <TextField v-model="typed.volume" label="How much of it, mL" :problem="problem('/volume')" />
      <template v-if="!weighed">
        <SelectField
          v-model="typed.steps"
          label="In at most"
          :options="[
            ['1', '1 step'],
            ['2', '2 steps'],
            ['3', '3 steps'],
            ['4', '4 steps'],
          ]"
        />
        <TextField v-model="typed.maxLiquid" label="Liquid in all at most, mL" :problem="problem('/maxLiquid')" />
        <TextField v-model="typed.maxStock" label="Stock at most, mL" :problem="problem('/maxStock')" />
        <SelectField
          v-model="typed.objective"
          label="Best is"
          :options="[
            ['uncertainty', 'least uncertainty'],
            ['liquid', 'least liquid'],
            ['steps', 'fewest steps'],
            ['mixed', 'a bit of each'],
          ]"
        />
      </template>
    </template>
    <template v-else-if="typed.mode === 'series'">
      <SelectField
        v-model="typed.as"
        label="Tubes by"
        :options="[
          ['volumes', 'volumes of stock'],
          ['targets', 'concentrations'],
          ['even', 'concentrations, evenly'],
          ['factor', 'concentrations, by one factor'],
        ]"
      />
      <TextField
        v-if="listed"
        v-model="typed.list"
        words
        :label="typed.as === 'volumes' ? 'mL of stock in each, 0 is the blank' : `Concentrations, ${stock?.unit ?? ''}`"
        :problem="listProblem"
      />
      <template v-else>
        <TextField
          v-model="typed.from"
          :label="`From, ${stock?.unit ?? ''}`"
          :problem="problem('/spread/from') || listProblem"
        />
        <TextField v-model="typed.to" :label="`to, ${stock?.unit ?? ''}`" :problem="problem('/spread/to')" />
        <TextField v-model="typed.count" label="how many" :problem="problem('/spread/count')" />
      </template>
      <TextField v-model="typed.each" label="Each in all, mL" :problem="problem('/volume')" />
      <SelectField
        v-model="typed.into"
        label="Made in"
        :options="[
          ['tubes', 'tubes, by two burettes'],
          ['flasks', 'flasks, to the mark'],
        ]"
      />
    </template>
    <div v-else class="stages">
      <span class="small soft label">Stages</span>
      <div>
        <el-button
          v-if="typed.factors.length < 12"
          link
          type="primary"
          @click="typed.factors = [...typed.factors, '10']"
          >One more</el-button
        >
        <el-button
          v-if="typed.factors.length > 1"
          link
          type="primary"
          @click="typed.factors = typed.factors.slice(0, -1)"
          >One less</el-button
        >
      </div>
      <p class="small soft">Factors are typed below the vials.</p>
    </div>
    <SelectField
      v-if="typed.mode !== 'series' || typed.into === 'flasks'"
      v-model="typed.portions"
      label="Stock is"
      :options="[
        ['measured', 'measured by volume'],
        ['weighed', bench.bench?.balance ? `weighed, on ${bench.bench.balance.balance.name}` : 'weighed'],
      ]"
      :problem="problem('/balance', '/inFlasks')"
    />
    <template v-if="weighed && !stock?.density">
      <TextField v-model="typed.density" label="Density at 20 °C, g/mL" :problem="problem('/stock/density')" />
      <TextField
        v-model="typed.densityLimits"
        label="known within ±, g/mL"
        :problem="problem('/stock/densityLimits')"
      />
    </template>
    <TextField
      v-if="typed.mode !== 'series'"
      v-model="typed.keep"
      label="Kept of each, mL"
      :problem="problem('/keep')"
    />
    <TextField v-model="typed.rinse" label="To rinse the pipette, mL" :problem="problem('/rinse')" />
  </div>
  <p v-if="chainProblem" class="problem" role="alert">{{ chainProblem }}</p>
  <p v-if="problem('/rungs')" class="problem" role="alert">{{ problem('/rungs') }}</p>
  <p v-if="answer?.read?.length" class="small soft">Read as {{ [...new Set(answer.read)].join('; ') }}.</p>

  <template v-if="answer">
    <LadderDrawing
      :answer="answer"
      :stock-text="stockText"
      :picked="picked"
      :factors="typed.mode === 'chain' ? typed.factors : undefined"
      :class="{ stale: problems.size > 0 }"
      @pick="(i) => (picked = i)"
      @factor="setFactor"
    />
    <div class="below">
      <section>
        <template v-if="answer.routes">
          <h2>Ways there, with the glass of the lab</h2>
          <table class="plain">
            <thead>
              <tr>
                <th></th>
                <th>Glass</th>
                <th class="r">1 in</th>
                <th class="r">±, k = 2</th>
                <th class="r">liquid, mL</th>
                <th class="r">stock, mL</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(r, i) in answer.routes" :key="i" :class="{ at: i === route }">
                <td>
                  <input
                    :id="`route${i}`"
                    v-model="route"
                    type="radio"
                    name="route"
                    :value="i"
                    :aria-label="`Way ${i + 1}`"
                  />
                </td>
                <td>
                  <label :for="`route${i}`">
                    <span v-for="(s, k) in r.stages" :key="k"
                      >{{ k ? ', then ' : '' }}{{ Number(s.taken.toPrecision(5)) }} mL ({{ s.with.kind
                      }}{{ s.times > 1 ? `, filled ${s.times} times` : '' }}) to {{ s.flask.volume }} mL</span
                    >
                    <span v-if="r.front" class="small soft"> · none is better in every way</span>
                  </label>
                </td>
                <td class="figure r">{{ Number(r.factor.toPrecision(6)) }}</td>
                <td class="figure r">{{ percent(r.relative) }}</td>
                <td class="figure r">{{ r.liquid }}</td>
                <td class="figure r">{{ Number(r.stock.toPrecision(4)) }}</td>
              </tr>
            </tbody>
          </table>
        </template>
        <template v-if="answer.compare">
          <h2>The same concentrations, made in other ways</h2>
          <table class="plain">
            <thead>
              <tr>
                <th>Way</th>
                <th class="r">worst ±, k = 2</th>
                <th class="r">liquid, mL</th>
                <th class="r">stock, mL</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="w in answer.compare" :key="w.name">
                <td>{{ w.name }}</td>
                <template v-if="!w.says">
                  <td class="figure r">{{ percent(w.worst) }}</td>
                  <td class="figure r">{{ Number(w.liquid.toPrecision(4)) }}</td>
                  <td class="figure r">{{ Number(w.stock.toPrecision(4)) }}</td>
                </template>
                <td v-else colspan="3" class="small soft">{{ w.says }}</td>
              </tr>
            </tbody>
          </table>
        </template>
        <p>
          <span class="figure">{{ answer.ladder.stockNeeded.toFixed(1) }} mL</span> of the stock and about
          <span class="figure">{{ answer.ladder.solventNeeded.toFixed(0) }} mL</span> of solvent.<template
            v-if="answer.ladder.order.length > 1"
          >
            Measure from weak to strong:
            {{ answer.ladder.order.map((i) => answer!.ladder.tubes[i]!.label).join(', ') }}.</template
          >
        </p>
        <ol class="words" aria-label="What to do">
          <li v-for="t in answer.ladder.tubes" :key="t.label">
            {{ t.words
            }}<span v-if="t.needed > 0" class="small soft"
              >; {{ Number(t.needed.toPrecision(4)) }} mL of it needed</span
            >
          </li>
        </ol>
        <VerdictLine v-for="v in answer.ladder.verdicts ?? []" :key="v.sentence" :verdict="v" />
      </section>
      <aside v-if="tube" aria-label="Tube">
        <WorkingPanel v-if="working" :lines="working.lines" :title="working.title" @close="close" />
        <template v-else>
          <p class="small soft">Tube {{ tube.label }} gives</p>
          <FigureText :figure="tube.concentration" large @explain="explain" />
          <p class="small soft">k = 2 · <kbd>=</kbd> shows the working</p>
          <p>
            <el-button type="primary" :disabled="busy || problems.size > 0" @click="take"
              >Take it to the bench</el-button
            >
          </p>
          <BudgetBars :figure="tube.concentration" />
          <form v-if="tube.taken > 0" class="back" @submit.prevent="undilute">
            <h2>Back to the undiluted</h2>
            <TextField v-model="measured.value" :label="`Measured on tube ${tube.label}, ${tube.concentration.unit}`" />
            <TextField v-model="measured.limits" label="known within ±, k = 2" />
            <el-button native-type="submit">Undilute</el-button>
            <p v-if="back" role="status">
              The undiluted has <strong class="figure">{{ back.text }} ± {{ back.uText }}</strong> {{ back.unit }}.
            </p>
            <p v-if="backSays" class="problem" role="alert">{{ backSays }}</p>
          </form>
        </template>
      </aside>
    </div>
  </template>
  <p v-else-if="!trouble" class="soft">The ladder appears here once the question is clear.</p>
  <OneStep />
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11.5rem, 1fr));
  gap: 0 1.1rem;
  max-width: 74rem;
}
/* Labels of one line or two, fields, and what is said below them: each in one row. */
.fields > * {
  display: grid;
  grid-row: span 3;
  grid-template-rows: subgrid;
  grid-template-columns: minmax(0, 1fr);
}
.fields :deep(label) {
  align-self: end;
}
.fields :deep(p) {
  min-height: 1.4em;
  margin: 0.15rem 0 0;
}
.stages > div {
  align-self: center;
  display: flex;
  gap: 0 1.2rem;
}
.stages > div .el-button {
  margin: 0;
}
.stale {
  opacity: 0.55;
}
.below {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 20rem;
  gap: 0 2.5rem;
  margin-top: 0.8rem;
}
.words {
  padding-left: 1.3rem;
}
.at {
  background: var(--green-tint);
}
.r {
  text-align: right !important;
}
.back {
  border-top: 1px solid var(--line);
  margin-top: 1rem;
}
@media (max-width: 900px) {
  .below {
    grid-template-columns: 1fr;
  }
}
</style>
