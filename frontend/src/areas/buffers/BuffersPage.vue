<script setup lang="ts">
import { computed, onMounted, shallowRef, useTemplateRef, watch } from 'vue'
import {
  api,
  ask,
  sentence,
  type Bottle,
  type BufferAnswer,
  type BufferQuestion,
  type LabGlass,
  type LabSubstance,
  type LabSystem,
  type Settings,
} from '@/api/client'
import { useBench } from '@/bench/bench'
import MadeBefore from '@/bench/MadeBefore.vue'
import { vOnward } from '@/bench/onward'
import { useAnswer } from '@/bench/useAnswer'
import { useLook } from '@/bench/useLook'
import { useTyped } from '@/bench/useTyped'
import LandscapePlot from './LandscapePlot.vue'
import { questionOf, typedQuestion } from './question'
import QuestionFields from './QuestionFields.vue'
import RecipePanel from './RecipePanel.vue'
import SystemsTable from './SystemsTable.vue'

/** A pH, how strong and how much: which system, which way, what to take. */
const bench = useBench()
const { typed, forget, fillIn } = useTyped('buffer', typedQuestion, ['row', 'mixes', 'strength'])
onMounted(fillIn)
const bottles = shallowRef<Bottle[]>([])
const glass = shallowRef<LabGlass[]>([])
const substances = shallowRef<LabSubstance[]>([])
const systems = shallowRef<LabSystem[]>([])
const settings = shallowRef<Settings>()
const recipe = useTemplateRef<{ focus: () => void }>('recipe')

const { answer, problems, problem, trouble, busy, compute, computeSoon, take } = useAnswer<
  BufferQuestion,
  BufferAnswer
>(
  () => {
    if (!settings.value || !bench.balance) return undefined
    return questionOf(typed.value, {
      settings: settings.value,
      glass: glass.value,
      balance: bench.balance,
      bottles: bottles.value,
      substances: substances.value,
      systems: systems.value,
      waterTemperature: bench.bench?.waterTemperature ?? 20,
    })
  },
  (body, signal) => ask(api.POST('/compute/buffer', { body, signal })),
)
const { look } = useLook(
  async () => {
    const [page, owned, solids, acids, rules] = await Promise.all([
      ask(api.GET('/bottles', { params: { query: { sources: true } } })),
      ask(api.GET('/glass')),
      ask(api.GET('/substances')),
      ask(api.GET('/systems')),
      ask(api.GET('/settings', { params: { query: { rules: true } } })),
      bench.known(),
    ])
    bottles.value = page.items
    glass.value = owned
    substances.value = solids
    systems.value = acids
    settings.value = rules
  },
  ['setup', 'shelf', 'bench'],
  trouble,
)
watch(typed, computeSoon, { deep: true })
watch([bottles, glass, substances, systems, settings, () => bench.bench, () => bench.balance], computeSoon)
// What was chosen for another pH is chosen again.
watch(
  () => typed.value.target,
  () => Object.assign(typed.value, { system: '', route: '' }),
)
const targets = computed(() => answer.value?.design.lines.map((l) => l.target) ?? [])
async function toTheBench() {
  const began = await take((question, id) => ({
    id,
    kind: 'buffer',
    question: { ...question, system: answer.value!.system, route: answer.value!.route },
  }))
  if (began) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section>
      <h1>Which pH, how strong, how much?</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look().then(compute)">Try again</el-button>
      </p>
      <div v-onward="() => recipe?.focus()">
        <QuestionFields
          v-model="typed"
          :settings="settings"
          :bench-celsius="bench.bench?.waterTemperature"
          :bottles="bottles"
          :problem="problem"
        />
      </div>
      <p v-if="problem('/route')" class="problem small" role="alert">{{ problem('/route') }}</p>
      <div v-if="answer" :class="{ stale: problems.size > 0 }">
        <LandscapePlot :landscape="answer.design.landscape" :targets="targets" />
        <SystemsTable
          :answer="answer"
          @system="(key) => Object.assign(typed, { system: key, route: '' })"
          @route="(id) => (typed.route = id)"
        />
      </div>
      <MadeBefore kind="buffer" @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <aside aria-label="Recipe" aria-live="polite">
      <RecipePanel
        v-if="answer"
        ref="recipe"
        :answer="answer"
        :ready="!busy && problems.size === 0"
        @take="toTheBench"
      />
      <p v-else class="soft">
        {{ problems.size ? 'The recipe appears here once the question is clear.' : 'Working it out…' }}
      </p>
    </aside>
  </div>
</template>

<style scoped>
.stale {
  opacity: 0.55;
}
</style>
