<script setup lang="ts">
import { useDebounceFn, useLocalStorage } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import {
  api,
  ask,
  ProblemError,
  sentence,
  type LabSubstance,
  type RunSummary,
  type Settings,
  type StandardAnswer,
  type StandardQuestion,
} from '@/api/client'
import { onChange } from '@/api/events'
import { newId } from '@/api/id'
import { useBench } from '@/bench/bench'
import BudgetBars from '@/bench/BudgetBars.vue'
import { useKeys } from '@/bench/keys'
import QuantityField from '@/bench/QuantityField.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import FigureText from '@/design/FigureText.vue'
import FormulaText from '@/design/FormulaText.vue'
import { when } from '@/design/time'

const router = useRouter()
const bench = useBench()

/** The question as it is typed; it outlives a reload. */
const question = useLocalStorage(
  'vialbench-question',
  {
    key: 'potassium-hydrogen-phthalate',
    concentration: '0.1000 mol/L',
    of: '',
    volume: '250 mL',
    assay: '100',
    limits: '0',
    flaskClass: '',
    band: '',
    waters: '',
    density: '',
    densityLimits: '0.001',
    equivalents: '',
    reaction: '',
    dispense: '',
    liquidDensity: '',
  },
  { mergeDefaults: true },
)
const substances = ref<LabSubstance[]>([])
const settings = ref<Settings>()
const runs = ref<RunSummary[]>([])
const answer = ref<StandardAnswer>()
const problems = ref(new Map<string, string>())
const trouble = ref('')
const busy = ref(false)
const working = ref(false)
const search = ref('')
const whatField = useTemplateRef<{ focus: () => void }>('whatField')
const volumeField = useTemplateRef('volumeField')
const takeButton = useTemplateRef<{ ref: HTMLElement }>('takeButton')

const chosen = computed(() => substances.value.find((s) => s.substance.key === question.value.key))
const offered = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  return substances.value.filter(
    (s) =>
      !wanted ||
      s.substance.name.toLowerCase().includes(wanted) ||
      s.substance.formula.toLowerCase().replace('·', '').includes(wanted.replace(/[·.*]/g, '')),
  )
})
/** The usual bands, and the lab's own where it has set another (rule W-3). */
const bands = computed(() => {
  const list = [
    { value: '0.1', label: 'within ±0.1 %: a fixed concentration, as a standard' },
    { value: '1', label: 'within ±1 %: a fixed concentration, for class work' },
    { value: '5', label: 'within ±5 %: named by its actual concentration' },
  ]
  const own = String(settings.value?.thresholds['W-3'] ?? 1)
  return list.some((b) => b.value === own)
    ? list
    : [{ value: own, label: `within ±${own} %: the rule of this lab` }, ...list]
})
/** Fields that only some bases need are shown when the unit typed is of such a basis. */
const needsDensity = computed(() => /w\/w|\/kg/.test(question.value.concentration))
const needsReaction = computed(() => /eq\/|\dN|\d\s+m?N\b/i.test(question.value.concentration))
const waterChoices = computed(() => [
  { value: '', label: 'as named' },
  { value: '0', label: 'anhydrous' },
  ...[1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12].map((n) => ({ value: String(n), label: `with ${n} H2O` })),
])
const lacks = computed(() => {
  if (!bench.bench) return ''
  if (!bench.bench.balance)
    return 'There is no balance on the bench. Add one in the lab setup, and the recipe appears here.'
  if (substances.value.length > 0 && !chosen.value) return 'Say what is to be made, and the recipe appears here.'
  return ''
})

async function look() {
  try {
    const [list, rules, page] = await Promise.all([
      ask(api.GET('/substances')),
      ask(api.GET('/settings')),
      ask(api.GET('/runs')),
      bench.bench ? undefined : bench.look(),
    ])
    substances.value = list
    settings.value = rules
    runs.value = page.items
    if (!question.value.flaskClass) question.value.flaskClass = rules.flaskClass
    if (!question.value.band) question.value.band = String(rules.thresholds['W-3'] ?? 1)
    trouble.value = ''
  } catch (error) {
    trouble.value = sentence(error)
  }
}
onMounted(() => {
  whatField.value?.focus()
  void look()
})
onChange(['setup', 'run'], look)

const number = (text: string) => (text.trim() === '' ? NaN : Number(text.replace(',', '.').replace('%', '').trim()))

function body(): StandardQuestion | undefined {
  const q = question.value
  const substance = chosen.value?.substance
  const balance = bench.bench?.balance?.balance
  if (!substance || !balance || !settings.value) return undefined
  const wrong = new Map<string, string>()
  const fields = {
    '/assay': number(q.assay),
    '/assayLimits': number(q.limits || '0'),
    '/band': number(q.band),
    '/solutionDensity': number(needsDensity.value ? q.density || '0' : '0'),
    '/solutionDensityLimits': number(needsDensity.value ? q.densityLimits || '0' : '0'),
    '/liquidDensity': number(substance.liquid ? q.liquidDensity || '0' : '0'),
    '/equivalentCount': number(needsReaction.value ? q.equivalents || '0' : '0'),
  }
  for (const [field, value] of Object.entries(fields))
    if (Number.isNaN(value)) wrong.set(field, 'Write a number, like 99.95')
  if (wrong.size > 0) {
    problems.value = wrong
    return undefined
  }
  return {
    substance,
    assayPercent: fields['/assay'],
    assayLimitsPercent: fields['/assayLimits'],
    concentration: { text: q.concentration.slice(0, 9999), unit: 'mol/L' },
    of: q.of,
    ...(q.waters === '' ? {} : { waters: number(q.waters) }),
    solutionDensity: fields['/solutionDensity'],
    solutionDensityLimits: fields['/solutionDensityLimits'],
    equivalentCount: fields['/equivalentCount'],
    liquidDensity: fields['/liquidDensity'],
    ...(q.dispense === 'cylinder' || q.dispense === 'graduated pipette' ? { dispense: q.dispense } : {}),
    reaction: needsReaction.value ? q.reaction.trim() : '',
    volume: { text: q.volume.slice(0, 9999), unit: 'mL' },
    flaskClass: q.flaskClass === 'B' ? 'B' : 'A',
    bandPercent: fields['/band'],
    balance,
    waterTemperature: bench.bench?.waterTemperature ?? 20,
    buoyancy: settings.value.buoyancy,
    thresholds: settings.value.thresholds,
  }
}

let asked = 0
async function compute() {
  const turn = ++asked
  const wanted = body()
  if (!wanted) return
  try {
    const got = await ask(api.POST('/compute/standard', { body: wanted }))
    if (turn !== asked) return
    answer.value = got
    problems.value = new Map()
    trouble.value = ''
  } catch (error) {
    if (turn !== asked) return
    if (error instanceof ProblemError && error.status === 422) {
      problems.value = error.fields
      answer.value = undefined
    } else trouble.value = sentence(error)
  }
}
const computeSoon = useDebounceFn(compute, 50)
watch([question, chosen, () => bench.bench, settings], computeSoon, { deep: true })
watch(
  () => question.value.key,
  () => {
    question.value.of = ''
    question.value.waters = ''
    question.value.dispense = ''
    question.value.liquidDensity = String(chosen.value?.substance.liquid ? (chosen.value.substance.density ?? '') : '')
    const fraction = chosen.value?.substance.massFraction
    question.value.assay = fraction ? String(Number((100 * fraction).toPrecision(6))) : '100'
    question.value.limits = fraction ? '0.5' : '0'
  },
)

function choose(id: string) {
  if (id.startsWith('volume ')) question.value.volume = id.slice('volume '.length)
  if (id.startsWith('concentration ')) question.value.concentration = id.slice('concentration '.length)
}

async function begin(planId: string) {
  const run = await ask(api.POST('/runs', { body: { id: newId(), planId } }))
  await router.push(`/runs/${run.summary.id}`)
}

async function take() {
  const wanted = body()
  if (!wanted || busy.value || !answer.value) return
  busy.value = true
  try {
    const plan = await ask(api.POST('/plans', { body: { ...wanted, id: newId() } }))
    await begin(plan.id)
  } catch (error) {
    trouble.value = sentence(error)
  } finally {
    busy.value = false
  }
}

async function again(planId: string) {
  try {
    await begin(planId)
  } catch (error) {
    trouble.value = sentence(error)
  }
}
useKeys([{ key: '=', does: 'working of the mass to weigh', act: () => (working.value = !working.value) }])
const problem = (...fields: string[]) => fields.map((f) => problems.value.get(f)).find(Boolean) ?? ''
const ends = { open: 'in progress', finished: 'on the shelf', void: 'void' }
</script>

<template>
  <div class="sheet-and-side" :class="{ 'wide-side': working }">
    <section class="question">
      <h1>What do you need, how strong, how much?</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look().then(compute)">Try again</el-button>
      </p>
      <div class="fields">
        <div class="wide">
          <label id="what">What</label>
          <el-select
            ref="whatField"
            v-model="question.key"
            filterable
            default-first-option
            :filter-method="(text: string) => (search = text)"
            aria-labelledby="what"
            aria-label="What"
            placeholder="Name or formula"
            no-match-text="Not in the lab: add it in the lab setup"
            no-data-text="Not in the lab: add it in the lab setup"
            @visible-change="search = ''"
          >
            <el-option v-for="s in offered" :key="s.substance.key" :value="s.substance.key" :label="s.substance.name">
              <span>{{ s.substance.name }}</span> <FormulaText class="soft" :pieces="s.pieces" />
            </el-option>
          </el-select>
          <p class="small soft about">
            <template v-if="chosen">
              <FormulaText :pieces="chosen.pieces" /> · {{ chosen.molarMass.toFixed(2) }} g/mol ·
              {{ chosen.substance.class === 'primary' ? 'primary standard' : 'secondary, to be standardised' }}
              <template v-if="chosen.substance.drying"> · drying: {{ chosen.substance.drying }}</template>
            </template>
            <span v-if="problem('/substance/formula', '/substance/key')" class="problem">{{
              problem('/substance/formula', '/substance/key')
            }}</span>
          </p>
        </div>
        <QuantityField
          v-model="question.concentration"
          label="How strong"
          unit="mol/L"
          :dimensions="['amount concentration', 'mass concentration', 'mass fraction', 'molality', 'equivalents']"
          initial="0.1000 mol/L"
          :problem="problem('/concentration')"
          @record="volumeField?.focus()"
        />
        <div>
          <label for="of">Of</label>
          <el-select
            id="of"
            v-model="question.of"
            aria-label="Of"
            filterable
            allow-create
            default-first-option
            :empty-values="[null, undefined]"
          >
            <el-option value="" label="the compound" />
            <el-option v-for="e in chosen?.elements ?? []" :key="e" :value="e" :label="`${e} in it`" />
          </el-select>
          <p class="problem small">{{ problem('/of') }}</p>
        </div>
        <QuantityField
          ref="volumeField"
          v-model="question.volume"
          label="How much"
          unit="mL"
          :dimensions="['volume']"
          initial="250 mL"
          :problem="problem('/volume')"
          @record="takeButton?.ref.focus()"
        />
        <div>
          <label for="class">Flask</label>
          <el-select id="class" v-model="question.flaskClass">
            <el-option value="A" label="class A" />
            <el-option value="B" label="class B, for teaching" />
          </el-select>
          <p class="problem small">{{ problem('/flaskClass') }}</p>
        </div>
        <div>
          <label for="assay">Assay on the bottle, % w/w</label>
          <el-input id="assay" v-model="question.assay" class="figure" inputmode="decimal" maxlength="20" />
          <p class="problem small">{{ problem('/assay', '/assayPercent') }}</p>
        </div>
        <div>
          <label for="limits">known within ±, %</label>
          <el-input id="limits" v-model="question.limits" class="figure" inputmode="decimal" maxlength="20" />
          <p class="problem small">{{ problem('/assayLimits', '/assayLimitsPercent') }}</p>
        </div>
        <template v-if="needsDensity">
          <div>
            <label for="density">Density of the solution, g/mL</label>
            <el-input id="density" v-model="question.density" class="figure" inputmode="decimal" maxlength="20" />
            <p class="problem small">{{ problem('/solutionDensity') }}</p>
          </div>
          <div>
            <label for="densityLimits">known within ±, g/mL</label>
            <el-input
              id="densityLimits"
              v-model="question.densityLimits"
              class="figure"
              inputmode="decimal"
              maxlength="20"
            />
            <p class="problem small">{{ problem('/solutionDensityLimits') }}</p>
          </div>
        </template>
        <template v-if="needsReaction">
          <div>
            <label for="equivalents">Equivalents in one formula unit</label>
            <el-input
              id="equivalents"
              v-model="question.equivalents"
              class="figure"
              inputmode="decimal"
              maxlength="20"
            />
            <p class="problem small">{{ problem('/equivalentCount') }}</p>
          </div>
          <div>
            <label for="reaction">in the reaction</label>
            <el-input id="reaction" v-model="question.reaction" maxlength="80" placeholder="acid–base" />
            <p class="problem small">{{ problem('/reaction') }}</p>
          </div>
        </template>
        <div v-if="chosen?.substance.liquid">
          <label for="liquidDensity">Density on the bottle, g/mL</label>
          <el-input
            id="liquidDensity"
            v-model="question.liquidDensity"
            class="figure"
            inputmode="decimal"
            maxlength="20"
          />
          <p class="problem small">{{ problem('/liquidDensity') }}</p>
        </div>
        <div v-if="chosen?.substance.liquid">
          <label for="dispense">Taken by</label>
          <el-select id="dispense" v-model="question.dispense" aria-label="Taken by" :empty-values="[null, undefined]">
            <el-option value="" label="weighing" />
            <el-option value="graduated pipette" label="graduated pipette" />
            <el-option value="cylinder" label="cylinder" />
          </el-select>
          <p class="problem small">{{ problem('/dispense') }}</p>
        </div>
        <div v-else>
          <label for="waters">Water in the solid at hand</label>
          <el-select
            id="waters"
            v-model="question.waters"
            aria-label="Water in the solid at hand"
            :empty-values="[null, undefined]"
          >
            <el-option v-for="w in waterChoices" :key="w.value" :value="w.value" :label="w.label" />
          </el-select>
          <p class="problem small">{{ problem('/waters') }}</p>
        </div>
        <div class="wide">
          <label for="band">Close enough when the mass is</label>
          <el-select id="band" v-model="question.band">
            <el-option v-for="b in bands" :key="b.value" :value="b.value" :label="b.label" />
          </el-select>
          <p class="problem small">{{ problem('/band', '/bandPercent') }}</p>
        </div>
      </div>

      <section v-if="runs.length" class="earlier">
        <h2>Made before</h2>
        <table class="plain">
          <tbody>
            <tr v-for="run in runs.slice(0, 6)" :key="run.id">
              <td class="figure">{{ run.number }}</td>
              <td>
                <RouterLink :to="`/runs/${run.id}`">{{ run.title }}</RouterLink>
              </td>
              <td>{{ ends[run.status] }}</td>
              <td class="soft">{{ when(run.changed) }}</td>
              <td><el-button link type="primary" @click="again(run.planId)">Make it again</el-button></td>
            </tr>
          </tbody>
        </table>
      </section>
    </section>

    <aside aria-label="Recipe" aria-live="polite">
      <WorkingPanel v-if="working && answer" :lines="answer.working" title="mass to weigh" @close="working = false" />
      <template v-else-if="answer">
        <p class="small soft">{{ answer.recipe.unit === 'g' ? 'Weigh' : `Measure with a ${answer.recipe.with}` }}</p>
        <button type="button" class="mass" title="How the mass to weigh came about" @click="working = true">
          <span class="figure value">{{ answer.recipe.takeText }}</span>&#8239;<span class="figure unit">{{
            answer.recipe.unit
          }}</span>
        </button>
        <p class="small soft">
          {{ answer.recipe.low.toFixed(answer.recipe.decimals) }} to
          {{ answer.recipe.high.toFixed(answer.recipe.decimals) }}
          {{ answer.recipe.unit }} is close enough · <kbd>=</kbd> shows the working
        </p>
        <p>
          Make up to the mark of a <strong>{{ answer.recipe.flask.volume }} mL</strong> flask, class
          {{ answer.recipe.flask.class }}.
        </p>
        <div class="gives">
          <p class="small soft">Exactly that would give, k = 2</p>
          <p v-for="f in answer.recipe.figures.slice(0, 2)" :key="f.id" class="line">
            <FigureText :figure="f" @explain="working = true" />
            <span v-if="f.id !== 'concentration'" class="small soft">{{ f.label }}</span>
          </p>
          <BudgetBars v-if="answer.recipe.figures[0]" :figure="answer.recipe.figures[0]" />
        </div>
        <VerdictLine v-for="v in answer.recipe.verdicts" :key="v.sentence" :verdict="v" @choose="choose" />
        <el-button ref="takeButton" type="primary" :disabled="busy" @click="take">Take it to the bench</el-button>
        <details class="cautions small" open>
          <summary>Cautions</summary>
          <ul>
            <li v-for="c in answer.recipe.cautions" :key="c">{{ c }}</li>
          </ul>
        </details>
      </template>
      <p v-else class="soft">
        {{ lacks || (problems.size ? 'The recipe appears here once the question is clear.' : 'Working it out…') }}
      </p>
    </aside>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.4rem 1.2rem;
  max-width: 40rem;
  margin-top: 1rem;
}
.wide {
  grid-column: 1 / 3;
}
.fields p {
  min-height: 1.4em;
  margin: 0.15rem 0 0;
}
.mass {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 2px dotted var(--line-strong);
  padding: 0;
  cursor: pointer;
}
.mass .value {
  font-size: 2.6rem;
  font-weight: 700;
  line-height: 1.1;
}
.mass .unit {
  font-size: 1.5rem;
  color: var(--ink-soft);
}
.gives {
  border-top: 1px solid var(--line);
  padding-top: 0.7rem;
  margin: 0.8rem 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 0.5rem;
  margin: 0.2rem 0;
}
.cautions {
  margin-top: 1.2rem;
}
.cautions ul {
  padding-left: 1.1rem;
}
.earlier {
  max-width: 52rem;
  margin-top: 1.4rem;
}
</style>
