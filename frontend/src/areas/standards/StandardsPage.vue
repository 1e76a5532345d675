<script setup lang="ts">
import { useDebounceFn, useLocalStorage } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import {
  api,
  ask,
  ProblemError,
  sentence,
  type LabBalance,
  type LabGlass,
  type LabSubstance,
  type QuantityQuestion,
  type RunSummary,
  type Settings,
  type StandardAnswer,
  type StandardQuestion,
} from '@/api/client'
import { latest } from '@/api/latest'
import { onChange } from '@/api/events'
import { newId } from '@/api/id'
import { useBench } from '@/bench/bench'
import BudgetBars from '@/bench/BudgetBars.vue'
import { useKeys } from '@/bench/keys'
import QuantityField from '@/bench/QuantityField.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import FigureText from '@/design/FigureText.vue'
import FormulaText from '@/design/FormulaText.vue'
import { when } from '@/design/time'
import OfField from './OfField.vue'
import { needsDensity, needsReaction, questionOf, typedQuestion } from './question'
import SubstancePick from './SubstancePick.vue'

const router = useRouter()
const bench = useBench()

/** The question as it is typed; it outlives a reload. */
const question = useLocalStorage('vialbench-question', typedQuestion(), { mergeDefaults: true })
const substances = ref<LabSubstance[]>([])
const settings = ref<Settings>()
const runs = ref<RunSummary[]>([])
const answer = ref<StandardAnswer>()
const problems = ref(new Map<string, string>())
const trouble = ref('')
const busy = ref(false)
const working = ref(false)
const balances = ref<LabBalance[]>([])
const glass = ref<LabGlass[]>([])
const bases: QuantityQuestion['dimensions'] = [
  'amount concentration',
  'mass concentration',
  'mass fraction',
  'molality',
  'equivalents',
  'volume fraction',
]
const whatField = useTemplateRef<{ focus: () => void }>('whatField')
const volumeField = useTemplateRef('volumeField')
const takeButton = useTemplateRef<{ ref: HTMLElement }>('takeButton')

const chosen = computed(() => substances.value.find((s) => s.substance.key === question.value.key))
/** The usual bands, and the lab's own where it has set another (rule W-3). */
const bands = computed(() => {
  const list: [string, string][] = [
    ['0.1', 'within ±0.1 %: a fixed concentration, as a standard'],
    ['1', 'within ±1 %: a fixed concentration, for class work'],
    ['5', 'within ±5 %: named by its actual concentration'],
  ]
  const own = String(settings.value?.thresholds['W-3'] ?? 1)
  return list.some(([value]) => value === own)
    ? list
    : [[own, `within ±${own} %: the rule of this lab`] as const, ...list]
})
const waterChoices: [string, string][] = [
  ['', 'as named'],
  ['0', 'anhydrous'],
  ...[1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12].map((n): [string, string] => [String(n), `with ${n} H2O`]),
]
const lacks = computed(() => {
  if (!bench.bench) return ''
  if (!bench.bench.balance)
    return 'There is no balance on the bench. Add one in the lab setup, and the recipe appears here.'
  if (substances.value.length > 0 && !chosen.value) return 'Say what is to be made, and the recipe appears here.'
  return ''
})

async function look() {
  try {
    const [list, rules, page, scales, owned] = await Promise.all([
      ask(api.GET('/substances')),
      ask(api.GET('/settings')),
      ask(api.GET('/runs')),
      ask(api.GET('/balances')),
      ask(api.GET('/glass')),
      bench.bench ? undefined : bench.look(),
    ])
    substances.value = list
    settings.value = rules
    runs.value = page.items
    balances.value = scales
    glass.value = owned
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

function body(): StandardQuestion | undefined {
  const balance = bench.bench?.balance?.balance
  if (!chosen.value || !balance || !settings.value) return undefined
  const built = questionOf(question.value, {
    substances: substances.value,
    glass: glass.value.map((g) => g.item),
    balance,
    balances: balances.value.map((b) => b.balance),
    waterTemperature: bench.bench?.waterTemperature ?? 20,
    buoyancy: settings.value.buoyancy,
    thresholds: settings.value.thresholds,
  })
  if (built instanceof Map) {
    problems.value = built
    return undefined
  }
  return built
}

const asked = latest()
async function compute() {
  const current = asked()
  const wanted = body()
  if (!wanted) return
  try {
    const got = await ask(api.POST('/compute/standard', { body: wanted }))
    if (!current()) return
    answer.value = got
    problems.value = new Map()
    trouble.value = ''
  } catch (error) {
    if (!current()) return
    if (error instanceof ProblemError && error.status === 422) {
      problems.value = error.fields
      answer.value = undefined
    } else trouble.value = sentence(error)
  }
}
const computeSoon = useDebounceFn(compute, 50)
watch([question, chosen, glass, balances, () => bench.bench, settings], computeSoon, { deep: true })
watch(
  () => question.value.key,
  () => {
    question.value.of = ''
    question.value.waters = ''
    question.value.dispense = ''
    question.value.dryingLoss = ''
    question.value.molarity = ''
    question.value.liquidDensity = String(chosen.value?.substance.liquid ? (chosen.value.substance.density ?? '') : '')
    const fraction = chosen.value?.substance.massFraction
    question.value.assay = fraction ? String(Number((100 * fraction).toPrecision(6))) : '100'
    question.value.limits = fraction ? '0.5' : '0'
  },
)

watch(
  () => question.value.volume,
  () => (question.value.inBatches = false),
)

function addAnother() {
  const other = substances.value.find((s) => s.substance.key === 'sodium-chloride') ?? substances.value[0]
  if (other)
    question.value.also.push({
      key: other.substance.key,
      concentration: question.value.concentration,
      of: '',
      assay: '100',
    })
}

function choose(id: string) {
  if (id === 'batches') question.value.inBatches = true
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
          <SubstancePick ref="whatField" v-model="question.key" :substances="substances" label="What" />
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
          :dimensions="bases"
          initial="0.1000 mol/L"
          :problem="problem('/concentration')"
          @record="volumeField?.focus()"
        />
        <OfField v-model="question.of" :elements="chosen?.elements ?? []" label="Of" :problem="problem('/of')" />
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
        <template v-if="needsReaction(question)">
          <TextField
            v-model="question.equivalents"
            label="Equivalents in one formula unit"
            :problem="problem('/equivalentCount')"
          />
          <TextField
            v-model="question.reaction"
            class="two"
            words
            label="in the reaction"
            placeholder="acid–base"
            :problem="problem('/reaction')"
          />
        </template>
        <template v-for="(other, i) in chosen?.substance.liquid ? [] : question.also" :key="i">
          <div class="two">
            <label>and also</label>
            <SubstancePick v-model="other.key" :substances="substances" :label="`Substance ${i + 2}`" />
            <p class="problem small">{{ problem(`/also/${i}/substance/key`, `/also/${i}/substance/formula`) }}</p>
          </div>
          <el-button
            link
            type="primary"
            class="leave"
            :aria-label="`Leave substance ${i + 2} out`"
            @click="question.also.splice(i, 1)"
            >Leave it out</el-button
          >
          <QuantityField
            v-model="other.concentration"
            label="how strong"
            unit="mol/L"
            :dimensions="bases"
            :problem="problem(`/also/${i}/concentration`)"
            @record="takeButton?.ref.focus()"
          />
          <OfField
            v-model="other.of"
            :elements="substances.find((s) => s.substance.key === other.key)?.elements ?? []"
            :label="`of, in substance ${i + 2}`"
            short="of"
            :problem="problem(`/also/${i}/of`)"
          />
          <TextField v-model="other.assay" label="assay, % w/w" :problem="problem(`/also/${i}/assay`)" />
        </template>
        <h2 class="wide">Made up</h2>
        <SelectField
          v-model="question.makeUp"
          label="How"
          spoken="How it is made up"
          :options="[
            ['', 'to the mark of a flask'],
            ['mass', 'by weighing the solution'],
            ['adding', 'by adding water, nominal'],
          ]"
          :problem="problem('/makeUp')"
        />
        <SelectField
          v-if="question.makeUp === ''"
          v-model="question.flaskClass"
          label="Flask"
          :options="[
            ['A', 'class A'],
            ['B', 'class B, for teaching'],
          ]"
          :problem="problem('/flaskClass')"
        />
        <TextField
          v-model="question.wanted"
          label="Good to within ±, %, if it matters"
          :problem="problem('/wanted', '/wantedPercent')"
        />
        <template v-if="needsDensity(question)">
          <TextField
            v-model="question.density"
            label="Density of the solution, g/mL"
            :problem="problem('/solutionDensity')"
          />
          <TextField
            v-model="question.densityLimits"
            label="known within ±, g/mL"
            :problem="problem('/solutionDensityLimits')"
          />
        </template>
        <SelectField
          v-model="question.band"
          label="Close enough when the mass is"
          :class="{ two: question.makeUp === '' || needsDensity(question) }"
          :options="bands"
          :problem="problem('/band', '/bandPercent')"
        />
        <h2 class="wide">The bottle at hand</h2>
        <TextField
          v-model="question.assay"
          label="Assay on the bottle, % w/w"
          :problem="problem('/assay', '/assayPercent')"
        />
        <TextField
          v-model="question.limits"
          label="known within ±, %"
          :problem="problem('/assayLimits', '/assayLimitsPercent')"
        />
        <template v-if="chosen?.substance.liquid">
          <TextField
            v-model="question.liquidDensity"
            label="Density on the bottle, g/mL"
            :problem="problem('/liquidDensity')"
          />
          <SelectField
            v-model="question.dispense"
            label="Taken by"
            :options="[
              ['', 'weighing'],
              ['graduated pipette', 'graduated pipette'],
              ['cylinder', 'cylinder'],
            ]"
            :problem="problem('/dispense')"
          />
          <template v-if="question.dispense">
            <TextField
              v-model="question.molarity"
              label="or mol/L, if the bottle says so"
              :problem="problem('/statedMolarity')"
            />
            <TextField
              v-if="question.molarity"
              v-model="question.molarityLimits"
              label="known within ±, mol/L"
              :problem="problem('/statedMolarityLimits')"
            />
          </template>
        </template>
        <template v-else>
          <SelectField
            v-model="question.waters"
            label="Water in the solid at hand"
            :options="waterChoices"
            :problem="problem('/waters')"
          />
          <TextField
            v-model="question.dryingLoss"
            label="Not dried: loss on drying, %"
            :problem="problem('/dryingLoss', '/dryingLossPercent')"
          />
          <p v-if="question.also.length < 5" class="two">
            <el-button link type="primary" @click="addAnother">Another substance in the same flask</el-button>
            <span class="problem small">{{ problem('/also') }}</span>
          </p>
        </template>
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
          <template v-if="answer.recipe.also">of <FormulaText :pieces="answer.recipe.solid" />, </template>
          {{ answer.recipe.low.toFixed(answer.recipe.decimals) }} to
          {{ answer.recipe.high.toFixed(answer.recipe.decimals) }}
          {{ answer.recipe.unit }} is close enough · <kbd>=</kbd> shows the working
        </p>
        <p v-for="(portion, i) in answer.recipe.also ?? []" :key="i" class="portion">
          and <strong class="figure">{{ portion.takeText }}&#8239;g</strong> of <FormulaText :pieces="portion.solid" />
        </p>
        <p v-if="question.makeUp === 'mass'">
          Make it up on the balance, about {{ answer.recipe.flask.volume }} mL: what the solution weighs is what counts.
        </p>
        <p v-else-if="question.makeUp === 'adding'">
          Add <strong>{{ answer.recipe.flask.volume }} mL</strong> of water.
        </p>
        <template v-else-if="answer.recipe.batches">
          <ol class="batches" aria-label="Batches">
            <li v-for="(b, i) in answer.recipe.batches" :key="i">
              <span class="figure">{{ b.take }}</span> to the mark of a <strong>{{ b.flask.volume }} mL</strong> flask
            </li>
          </ol>
          <el-button v-if="question.inBatches" link type="primary" @click="question.inBatches = false"
            >In one flask instead</el-button
          >
        </template>
        <p v-else>
          Make up to the mark of a <strong>{{ answer.recipe.flask.volume }} mL</strong> flask, class
          {{ answer.recipe.flask.class
          }}{{
            answer.recipe.flask.certified
              ? `, the one marked ${answer.recipe.flask.mark}: ${answer.recipe.flask.certified} mL by its certificate`
              : ''
          }}.
        </p>
        <div class="gives">
          <p class="small soft">Exactly that would give, k = 2</p>
          <p v-for="f in answer.recipe.figures.slice(0, 2 + question.also.length)" :key="f.id" class="line">
            <FigureText :figure="f" @explain="working = true" />
            <span v-if="f.label !== 'concentration'" class="small soft">{{ f.label }}</span>
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
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.2rem 1.2rem;
  max-width: 52rem;
  margin-top: 0.6rem;
}
.wide {
  grid-column: 1 / -1;
}
.two {
  grid-column: span 2;
}
.fields h2 {
  font-size: 1rem;
  margin: 0.5rem 0 0;
  border-top: 1px solid var(--line);
  padding-top: 0.5rem;
}
.leave {
  justify-self: start;
}
.portion,
.batches {
  margin: 0.3rem 0;
}
.batches {
  padding-left: 1.4rem;
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
