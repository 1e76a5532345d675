<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import {
  api,
  ask,
  ProblemError,
  sentence,
  type Bottle,
  type DilutionAnswer,
  type DilutionQuestion,
  type LabGlass,
  type LabSubstance,
  type Settings,
} from '@/api/client'
import { latest } from '@/api/latest'
import { useBench } from '@/bench/bench'
import MadeBefore from '@/bench/MadeBefore.vue'
import { useAnswer } from '@/bench/useAnswer'
import { useWorking } from '@/bench/useWorking'
import VerdictLine from '@/bench/VerdictLine.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import { useLook } from '@/bench/useLook'
import { useTyped } from '@/bench/useTyped'
import LadderDrawing from './LadderDrawing.vue'
import OneStep from './OneStep.vue'
import { questionOf, typedQuestion, type Mode } from './question'
import QuestionFields from './QuestionFields.vue'
import TubePanel from './TubePanel.vue'
import WaysTables from './WaysTables.vue'

const bench = useBench()
/** The question as it is typed; it outlives a reload. */
const { typed, forget, fillIn } = useTyped('dilution', typedQuestion, ['stockKnown', 'density', 'densityLimits'])
const bottles = shallowRef<Bottle[]>([])
const glass = shallowRef<LabGlass[]>([])
const substances = shallowRef<LabSubstance[]>([])
/** Concentrated reagents, which a dilution may start from. */
const liquids = computed(() => substances.value.filter((s) => s.molarity))
const settings = shallowRef<Settings>()
const stock = ref<DilutionQuestion['stock']>()
const route = ref(0)
const picked = ref(0)
const modes: { value: Mode; label: string }[] = [
  { value: 'one', label: 'One concentration' },
  { value: 'series', label: 'A series side by side' },
  { value: 'chain', label: 'A chain' },
]

/** What the lab has made comes before what may be bought. */
const stocks = computed((): [string, string][] => [
  ['', 'a stock of this strength'],
  ...bottles.value.map((b): [string, string] => [b.id, `bottle ${b.number}: ${b.title}, ${b.left.toFixed(0)} mL`]),
  ...liquids.value.map((s): [string, string] => [`liquid ${s.substance.key}`, s.substance.name]),
])

const reading = latest()
/** The strength that is typed is on its way to be read: nothing is computed of the one before. */
let unread = false
/** The stock: a bottle with all that is known of it, or a concentration as typed. */
async function readStock() {
  const current = reading()
  unread = false
  const bottle = bottles.value.find((b) => b.id === typed.value.bottle)
  if (bottle) {
    const { value, contributions, unit } = bottle.concentration
    const { name, number, formula, id, left } = bottle
    stock.value = { name, number, formula, unit, concentration: { value, contributions }, bottle: id, left }
    return
  }
  const liquid = liquids.value.find((s) => `liquid ${s.substance.key}` === typed.value.bottle)
  if (liquid?.molarity) {
    const { name, key, density } = liquid.substance
    stock.value = {
      name,
      formula: liquid.pieces,
      unit: 'mol/L',
      concentration: liquid.molarity,
      concentrate: true,
      key,
      density,
      approximate: true,
    }
    return
  }
  typed.value.bottle = ''
  unread = true
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
    unread = false
    stock.value = { name: 'the stock', unit: quantity.unit, concentration: { value: quantity.value } }
  } catch (error) {
    if (!current()) return
    unread = false
    stock.value = undefined
    answer.value = undefined
    if (!(error instanceof ProblemError)) trouble.value = sentence(error)
  }
}
watch(() => [typed.value.bottle, typed.value.stock], readStock)

const { answer, problems, trouble, busy, compute, computeSoon, take } = useAnswer<DilutionQuestion, DilutionAnswer>(
  () =>
    stock.value && settings.value && !unread
      ? questionOf(typed.value, {
          stock: stock.value,
          settings: settings.value,
          glass: glass.value,
          balance: bench.bench?.balance?.balance,
          waterTemperature: bench.bench?.waterTemperature ?? 20,
          route: route.value,
        })
      : undefined,
  (body, signal) => ask(api.POST('/compute/dilution', { body, signal })),
)
const { look } = useLook(
  async () => {
    const [page, owned, rules, list] = await Promise.all([
      ask(api.GET('/bottles', { params: { query: { sources: true } } })),
      ask(api.GET('/glass')),
      ask(api.GET('/settings')),
      ask(api.GET('/substances')),
      bench.known(),
    ])
    bottles.value = page.items.filter((b) => b.state === 'shelf' && b.concentration.value > 0)
    glass.value = owned
    substances.value = list
    settings.value = rules
    fillIn() // once the bottles are there: one that is not gives way
    await readStock()
  },
  ['setup', 'shelf', 'bench'],
  trouble,
)
watch(typed, computeSoon, { deep: true })
watch([stock, glass, settings, route, () => bench.bench], computeSoon)
watch(
  () => {
    const t = typed.value
    return [t.wanted, t.objective, t.steps, t.volume, t.maxLiquid, t.maxStock]
  },
  () => (route.value = 0),
)
watch(answer, (now, before) => {
  // The last tube is what a ladder is for.
  if (now && now.ladder.tubes.length !== before?.ladder.tubes.length) picked.value = now.ladder.tubes.length - 1
  void refresh()
})

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
watch(picked, () => void refresh())

function setFactor(stage: number, text: string) {
  typed.value.factors = typed.value.factors.map((f, i) => (i === stage ? text : f))
}
const chainProblem = computed(() => {
  const hit = [...problems.value].find(([field]) => field.startsWith('/factors') || field === '/rungs')
  if (!hit) return ''
  const stage = /\/factors\/(\d+)/.exec(hit[0])
  return stage ? `Stage ${Number(stage[1]) + 1}: ${hit[1]}` : hit[1]
})
const toTheBench = async () => {
  if (unread) await readStock()
  if (await take((question, id) => ({ id, kind: 'dilution', question }))) forget()
}
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
  <QuestionFields
    v-model="typed"
    :stocks="stocks"
    :stock="stock"
    :balance="bench.bench?.balance?.balance.name"
    :problems="problems"
  />
  <p v-if="chainProblem" class="problem" role="alert">{{ chainProblem }}</p>
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
        <WaysTables v-model:route="route" :answer="answer" />
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
        <TubePanel
          v-else
          :answer="answer"
          :picked="picked"
          :ready="!busy && problems.size === 0"
          @explain="explain(tube.concentration.id)"
          @take="toTheBench"
        />
      </aside>
    </div>
  </template>
  <p v-else-if="!trouble" class="soft">The ladder appears here once the question is clear.</p>
  <OneStep />
  <MadeBefore kind="dilution" @trouble="(error) => (trouble = sentence(error))" />
</template>

<style scoped>
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
@media (max-width: 900px) {
  .below {
    grid-template-columns: 1fr;
  }
}
</style>
