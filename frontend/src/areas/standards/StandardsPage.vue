<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import {
  api,
  ask,
  sentence,
  type LabBalance,
  type LabGlass,
  type LabSubstance,
  type Settings,
  type StandardAnswer,
  type StandardQuestion,
} from '@/api/client'
import { useBench } from '@/bench/bench'
import { useKeys } from '@/bench/keys'
import MadeBefore from '@/bench/MadeBefore.vue'
import { useAnswer } from '@/bench/useAnswer'
import { useLook } from '@/bench/useLook'
import { useTyped } from '@/bench/useTyped'
import { questionOf, typedQuestion, usualAssay } from './question'
import QuestionFields from './QuestionFields.vue'
import RecipePanel from './RecipePanel.vue'

const bench = useBench()
const router = useRouter()

/** The question as it is typed; it outlives a reload. */
const { typed: question, fillIn } = useTyped('standard', typedQuestion, [])
const substances = shallowRef<LabSubstance[]>([])
const settings = shallowRef<Settings>()
const balances = shallowRef<LabBalance[]>([])
const glass = shallowRef<LabGlass[]>([])
const working = ref(false)
const fields = useTemplateRef('fields')
const recipe = useTemplateRef('recipe')
const chosen = computed(() => substances.value.find((s) => s.substance.key === question.value.key))

onMounted(() => fields.value?.focus())

function body(): StandardQuestion | undefined {
  if (!bench.balance || !settings.value) return undefined
  return questionOf(question.value, {
    substances: substances.value,
    glass: glass.value.map((g) => g.item),
    balance: bench.balance,
    balances: balances.value.map((b) => b.balance),
    waterTemperature: bench.bench?.waterTemperature ?? 20,
    buoyancy: settings.value.buoyancy,
    thresholds: settings.value.thresholds,
  })
}
const { answer, problems, trouble, busy, compute, computeSoon, take } = useAnswer<StandardQuestion, StandardAnswer>(
  body,
  (body, signal) => ask(api.POST('/compute/standard', { body, signal })),
)
const { look } = useLook(
  async () => {
    const [list, rules, scales, owned] = await Promise.all([
      ask(api.GET('/substances')),
      ask(api.GET('/settings')),
      ask(api.GET('/balances')),
      ask(api.GET('/glass')),
      bench.known(),
    ])
    substances.value = list
    settings.value = rules
    balances.value = scales
    glass.value = owned
    fillIn() // after the substances have come: the usual assay goes with them
    if (!question.value.flaskClass) question.value.flaskClass = rules.flaskClass
    if (!question.value.band) question.value.band = String(rules.thresholds['W-3'] ?? 1)
  },
  ['setup'],
  trouble,
)
watch(question, computeSoon, { deep: true })
watch([chosen, glass, balances, () => bench.bench, () => bench.balance, settings], computeSoon)
watch(problems, (found) => {
  if (found.size > 0) answer.value = undefined
})

watch(
  () => question.value.key,
  () => {
    const s = chosen.value?.substance
    Object.assign(question.value, { of: '', waters: '', dispense: '', dryingLoss: '', molarity: '' })
    question.value.liquidDensity = String(s?.liquid ? (s.density ?? '') : '')
    if (s) Object.assign(question.value, usualAssay(s))
  },
)
watch(
  () => question.value.volume,
  () => (question.value.inBatches = false),
)

function choose(id: string) {
  if (id === 'batches') question.value.inBatches = true
  if (id === 'one flask') question.value.inBatches = false
  if (id.startsWith('volume ')) question.value.volume = id.slice('volume '.length)
  if (id.startsWith('concentration ')) question.value.concentration = id.slice('concentration '.length)
  if (id.startsWith('setup ')) void router.push(`/setup/${id.slice('setup '.length)}`)
}
const toTheBench = () => take((wanted, id) => ({ id, kind: 'standard', question: wanted }))
useKeys([{ key: '=', does: 'working of the mass to weigh', act: () => (working.value = !working.value) }])
</script>

<template>
  <div class="sheet-and-side" :class="{ 'wide-side': working }">
    <section class="question">
      <h1>What do you need, how strong, how much?</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look().then(compute)">Try again</el-button>
      </p>
      <QuestionFields
        ref="fields"
        v-model="question"
        :substances="substances"
        :settings="settings"
        :problems="problems"
        @done="recipe?.focus()"
      />
      <MadeBefore kind="standard" @trouble="(error) => (trouble = sentence(error))" />
    </section>

    <aside aria-label="Recipe" aria-live="polite">
      <RecipePanel
        v-if="answer"
        ref="recipe"
        v-model:working="working"
        :answer="answer"
        :make-up="question.makeUp"
        :in-batches="question.inBatches"
        :busy="busy"
        @choose="choose"
        @take="toTheBench"
      />
      <p v-else class="soft">
        {{
          substances.length > 0 && !chosen
            ? 'Say what is to be made, and the recipe appears here.'
            : problems.size
              ? 'The recipe appears here once the question is clear.'
              : 'Working it out…'
        }}
      </p>
    </aside>
  </div>
</template>
