<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import {
  api,
  ask,
  sentence,
  type Bottle,
  type LabGlass,
  type LabSubstance,
  type Tip,
  type Titration,
} from '@/api/client'
import { useBench } from '@/bench/bench'
import { pieceChoices, sizeChoices } from '@/bench/glass'
import DropperFields from '@/bench/DropperFields.vue'
import MadeBefore from '@/bench/MadeBefore.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import PreviewSide from '@/bench/PreviewSide.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'
import { usePreview } from '@/bench/usePreview'
import { useTyped } from '@/bench/useTyped'
import MathLine from '@/design/MathLine.vue'
import ClassFields from './ClassFields.vue'
import ExcessFields from './ExcessFields.vue'
import { asTyped, fromLink, isSolid, questionOf } from './question'
import SampleFields from './SampleFields.vue'
import { useBalanced } from './useBalanced'
import { useReaction } from './useReaction'

/** What is in the flask, what is in the burette, and what is wanted. */
const bench = useBench()
// A link for a class brings the question along: what it states stands in the fields, and is not
// kept for the next question. A bottle that is gone since gives way to one that is there, as with
// anything typed.
const linked = fromLink(useRoute().query)
const { typed, forget, fillIn } = linked
  ? { typed: ref(linked), forget: () => {}, fillIn: () => {} }
  : useTyped('titration', () => ({ ...asTyped }), ['name', 'diluted', 'density', 'note'])
onMounted(fillIn)
const own = '' // an equation of one's own
const list = shallowRef<Titration[]>([])
const bottles = shallowRef<Bottle[]>()
const substances = shallowRef<LabSubstance[]>([])
const glass = shallowRef<LabGlass[]>([])
const tips = shallowRef<Tip[]>([])

const names = computed((): [string, string][] => [
  ...list.value.map((t): [string, string] => [t.key, t.title]),
  [own, 'another one: type its equation'],
])
const { chosen, back, titrants, samples, reagents, solids } = useReaction(typed, list, bottles, substances)
const burettes = computed(() => pieceChoices(glass.value, typed.value.device))
const flasks = computed(() => sizeChoices(glass.value, 'volumetric flask'))
// A bottle that is only approximate wants it.
watch(
  () => typed.value.sampleBottle,
  (id) => (typed.value.settles = bottles.value?.find((b) => b.id === id)?.exact === false ? 'yes' : 'no'),
)
watch([burettes, flasks, tips], () => {
  if (!bottles.value) return
  if (!burettes.value.some(([v]) => v === typed.value.burette)) typed.value.burette = burettes.value.at(-1)![0]
  if (!flasks.value.some(([v]) => v === typed.value.flask)) typed.value.flask = flasks.value.at(-1)![0]
  if (!tips.value.some((t) => t.run === typed.value.tip)) typed.value.tip = ''
})
const unknown = computed(
  () =>
    typed.value.aim === 'determine' &&
    !(isSolid(typed.value) ? typed.value.substance : !back.value && typed.value.sampleBottle),
)

const { balanced, wrong, species } = useBalanced(() => (typed.value.reaction === own ? typed.value.equation : ''))

// A question that is not ready yet is left in peace.
const ready = computed(() => {
  const t = typed.value
  const named = t.aim === 'determine' && t.name.trim() !== ''
  const sampled = isSolid(t) ? t.substance : back.value ? '' : t.sampleBottle
  const reacts = t.reaction !== own || (balanced.value && t.titrant && t.analyte)
  return Boolean(t.titrantBottle && reacts && (sampled || named) && (!back.value || t.reagentBottle))
})
const { answer, problems, problem, trouble, busy, computeSoon, toTheBench } = usePreview(
  'titration',
  () => questionOf(typed.value, bench.bench?.waterTemperature ?? 20),
  () => Boolean(bottles.value && ready.value),
)
watch(typed, computeSoon, { deep: true })
watch([ready, bottles, () => bench.bench?.waterTemperature], computeSoon)
const design = computed(() => (answer.value?.plan.kind === 'titration' ? answer.value.plan.design : undefined))

const { look } = useLook(
  async () => {
    await bench.known()
    const [titrations, page, solids, owned, droppers] = await Promise.all([
      ask(api.GET('/titrations')),
      ask(api.GET('/bottles')),
      ask(api.GET('/substances')),
      ask(api.GET('/glass')),
      ask(api.GET('/tips')),
    ])
    tips.value = droppers
    list.value = titrations
    bottles.value = page.items.filter((b) => b.state === 'shelf')
    substances.value = solids
    glass.value = owned
    propose()
  },
  ['shelf', 'setup', 'bench', 'droptip'],
  trouble,
)

let proposed = Boolean(linked)
/** At first, a titration that the lab has a titrant for, if there is one. */
function propose() {
  if (proposed || !bottles.value) return
  proposed = true
  const there = (ids: string[]) => bottles.value!.some((b) => ids.includes(b.id))
  if (chosen.value && there(chosen.value.titrants)) return
  const own = list.value.filter((t) => there(t.titrants))
  const pipetted = own.find((t) => there(t.samples))
  const weighed = own.find((t) =>
    substances.value.some((s) => s.substance.class === 'primary' && t.solids.includes(s.substance.key)),
  )
  const first = pipetted ?? weighed ?? own[0]
  if (first) Object.assign(typed.value, { reaction: first.key, by: pipetted ? 'pipette' : 'weighed' })
}

/** Takes as much of the sample as suits the burette. */
const take = (amount: string) => (typed.value[typed.value.by === 'weighed' ? 'mass' : 'volume'] = amount)

async function start() {
  if (await toTheBench()) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section class="question">
      <h1>What is in the flask, what is in the burette?</h1>
      <p v-if="linked" class="small" role="note">
        This question came with a link, which anybody can write: look at each field before you take it to the bench.
      </p>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <p v-if="bottles?.length === 0" class="soft">
        Nothing on the shelf yet. <RouterLink to="/standards">Make a solution</RouterLink>, then titrate with it.
      </p>
      <form v-if="bottles?.length" v-first @submit.prevent="start">
        <fieldset>
          <legend>What reacts</legend>
          <SelectField
            v-model="typed.reaction"
            label="Titration"
            class="wide"
            filterable
            :options="names"
            :problem="problem('/reaction')"
          />
          <SelectField
            v-model="typed.aim"
            label="To find"
            :options="[
              ['standardise', 'what is in the burette: standardise it'],
              ['determine', 'what is in the flask: determine it'],
            ]"
            class="wide"
          />
          <template v-if="typed.reaction === ''">
            <TextField
              v-model="typed.equation"
              words
              :max="500"
              class="wide"
              label="Equation, balanced or not"
              placeholder="MnO4- + Fe^2+ + H+ -> Mn^2+ + Fe^3+ + H2O"
              :problem="wrong || problem('/equation')"
            />
            <SelectField
              v-model="typed.titrant"
              label="In the burette"
              :options="species"
              :problem="problem('/titrant')"
            />
            <SelectField
              v-model="typed.analyte"
              label="In the flask"
              :options="species"
              :problem="problem('/analyte')"
            />
            <TextField v-model="typed.indicator" words label="Indicator" />
          </template>
        </fieldset>
        <div v-if="chosen || balanced" class="reaction">
          <MathLine :tex="(chosen ?? balanced)!.latex" />
          <p v-if="chosen" class="small soft">
            Indicator: {{ chosen.indicator }}. Look for: {{ chosen.colour }}. {{ chosen.conditions.join(' ') }} Source:
            {{ chosen.source }}.
          </p>
        </div>
        <fieldset>
          <legend>In the burette</legend>
          <SelectField
            v-model="typed.titrantBottle"
            label="Titrant"
            class="wide"
            :options="titrants"
            :problem="problem('/titrantBottle', '/titrant')"
          />
          <SelectField
            v-model="typed.device"
            label="It comes from"
            :options="[
              ['burette', 'a burette'],
              ['graduated pipette', 'a graduated pipette'],
              ['syringe', 'a syringe'],
              ['drops', 'counted drops'],
            ]"
            :problem="problem('/device')"
          />
          <SelectField
            v-if="typed.device !== 'drops'"
            v-model="typed.burette"
            label="Size"
            :options="burettes"
            :problem="problem('/burette')"
          />
          <DropperFields v-else v-model:tip="typed.tip" v-model:drop="typed.drop" :tips="tips" :problem="problem" />
        </fieldset>
        <p v-if="chosen?.titrants.length === 0" class="small soft">
          No bottle on the shelf contains {{ chosen.titrant }}. <RouterLink to="/standards">Make one</RouterLink>.
        </p>
        <SampleFields
          v-model="typed"
          :samples="samples"
          :solids="solids"
          :flasks="flasks"
          :back="back"
          :unknown="unknown"
          :problem="problem"
        />
        <ExcessFields v-if="back" v-model="typed" :reagents="reagents" :problem="problem" />
        <ClassFields v-model="typed" :problem="problem" />
        <el-button type="primary" native-type="submit" :disabled="busy"
          >Take it to the bench <kbd>Enter</kbd></el-button
        >
        <p v-if="chosen" class="small soft">
          {{ chosen.cautions.join(' ') }} Your local rules, the safety data sheets and licensed waste handling come
          first.
        </p>
      </form>
      <MadeBefore kind="titration" @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <PreviewSide v-if="bottles?.length" kind="titration" :run="answer" :unclear="problems.size > 0 || !ready">
      <el-button v-if="design?.take" @click="take(design.take)">
        Take {{ design.take }} {{ typed.by === 'weighed' ? 'g' : 'mL' }} instead
      </el-button>
    </PreviewSide>
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.reaction {
  margin-bottom: 0.6rem;
}
.reaction p {
  max-width: 60rem;
  margin: 0.2rem 0 0;
}
</style>
