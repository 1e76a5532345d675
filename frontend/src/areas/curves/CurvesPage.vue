<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask, sentence, type Bottle, type LabGlass, type Tip, type Titration } from '@/api/client'
import { useBench } from '@/bench/bench'
import { sizeChoices } from '@/bench/glass'
import DropperFields from '@/bench/DropperFields.vue'
import MadeBefore from '@/bench/MadeBefore.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import PreviewSide from '@/bench/PreviewSide.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'
import { usePreview } from '@/bench/usePreview'
import { useTyped } from '@/bench/useTyped'

/** What is titrated with the meter in it, and with what. */
const bench = useBench()
const { typed, forget } = useTyped(
  'curve',
  () => ({
    flaskBottle: '',
    flaskName: '',
    flaskFormula: 'C2H4O2',
    flaskC: '0.1',
    buretteBottle: '',
    buretteFormula: 'NaOH',
    buretteC: '0.1',
    volume: '25',
    water: '',
    device: 'burette' as 'burette' | 'drops',
    glass: '50',
    tip: '',
    drop: '0.05',
    carbonic: 'no' as 'yes' | 'no',
    acidBottle: '',
    acidC: '1',
  }),
  ['flaskName', 'flaskFormula', 'flaskC', 'acidC'],
)
const bottles = shallowRef<Bottle[]>([])
const glass = shallowRef<LabGlass[]>([])
const loaded = ref(false)
const tips = shallowRef<Tip[]>([])

const choices = computed((): [string, string][] => [
  ['', 'not on the shelf: typed'],
  ...bottles.value.map((b): [string, string] => [
    b.id,
    `bottle ${b.number}: ${b.title}${b.exact ? '' : ', approximate'}`,
  ]),
])
/** The acid that an amino acid is brought to its fully protonated form with, before it begins. */
const anAcid = 'typed'
const acids = computed((): [string, string][] => [
  ['', 'as it is'],
  [anAcid, 'fully protonated, with HCl'],
  ...bottles.value
    .filter((b) => b.formula.map((piece) => piece.text).join('') === 'HCl')
    .map((b): [string, string] => [b.id, `fully protonated, with bottle ${b.number}`]),
])
const burettes = computed(() => sizeChoices(glass.value, 'burette'))

function question() {
  const t = typed.value
  return {
    flask: t.flaskBottle
      ? { bottle: t.flaskBottle }
      : { name: t.flaskName.trim() || t.flaskFormula, formula: t.flaskFormula, c: t.flaskC || 0 },
    burette: t.buretteBottle ? { bottle: t.buretteBottle } : { formula: t.buretteFormula, c: t.buretteC || 0 },
    volume: t.volume,
    water: t.water || 0,
    glass: t.glass,
    ...(t.device === 'drops' ? { device: t.device, ...(t.tip ? { tip: t.tip } : { drop: t.drop || 0 }) } : {}),
    carbonic: t.carbonic === 'yes',
    ...(t.acidBottle === anAcid ? { acid: { formula: 'HCl', name: 'Hydrochloric acid', c: t.acidC || 0 } } : {}),
    ...(t.acidBottle && t.acidBottle !== anAcid ? { acid: { bottle: t.acidBottle } } : {}),
    celsius: bench.bench?.waterTemperature ?? 20,
  }
}
const { answer, problems, problem, trouble, busy, computeSoon, toTheBench } = usePreview('curve', question, () =>
  Boolean(loaded.value),
)
watch(typed, computeSoon, { deep: true })
watch([loaded, () => bench.bench], computeSoon)
const { look } = useLook(
  async () => {
    await bench.known()
    const [page, owned, droppers, titrations] = await Promise.all([
      ask(api.GET('/bottles')),
      ask(api.GET('/glass')),
      ask(api.GET('/tips')),
      ask(api.GET('/titrations')),
    ])
    tips.value = droppers
    if (!droppers.some((t) => t.run === typed.value.tip)) typed.value.tip = ''
    bottles.value = page.items.filter((b) => b.state === 'shelf' && b.formula.length > 0)
    glass.value = owned
    loaded.value = true
    for (const field of ['flaskBottle', 'buretteBottle'] as const)
      if (!bottles.value.some((b) => b.id === typed.value[field])) typed.value[field] = ''
    propose(titrations)
    if (!acids.value.some(([id]) => id === typed.value.acidBottle)) typed.value.acidBottle = ''
  },
  ['shelf', 'setup', 'bench', 'droptip'],
  trouble,
)

let proposed = false
/** At first, a strong base or acid of the lab, and what it titrates; nothing in the place of a sample that
 * somebody has begun to type. */
function propose(titrations: Titration[]) {
  const t = typed.value
  if (proposed || t.buretteBottle || t.flaskBottle || t.flaskName) return
  proposed = true
  const idOf = (formula: string) => bottles.value.find((b) => b.formula.map((p) => p.text).join('') === formula)?.id
  for (const titrant of ['NaOH', 'KOH', 'HCl'].flatMap((formula) => idOf(formula) ?? [])) {
    const samples = titrations.filter((x) => x.titrants.includes(titrant)).flatMap((x) => x.samples)
    if (samples[0]) return Object.assign(t, { buretteBottle: titrant, flaskBottle: samples[0] })
  }
}

async function start() {
  if (await toTheBench()) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section class="question">
      <h1>Which acid or base, and what is run in?</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <form v-first @submit.prevent="start">
        <fieldset>
          <legend>In the beaker, with the probe</legend>
          <SelectField
            v-model="typed.flaskBottle"
            class="wide"
            label="Sample"
            :options="choices"
            :problem="problem('/flask/bottle')"
          />
          <template v-if="!typed.flaskBottle">
            <TextField v-model="typed.flaskName" words label="What it is called" placeholder="Alder vinegar" />
            <TextField
              v-model="typed.flaskFormula"
              words
              label="Formula of the acid or base"
              :problem="problem('/flask/formula')"
            />
            <TextField
              v-model="typed.flaskC"
              label="About, mol/L"
              placeholder="empty: unknown"
              :problem="problem('/flask')"
            />
          </template>
          <TextField v-model="typed.volume" label="Volume of it, mL" :problem="problem('/volume')" />
          <TextField v-model="typed.water" label="Water to cover the probe, mL" :problem="problem('/water')" />
          <SelectField
            v-model="typed.acidBottle"
            label="It begins"
            class="wide"
            :options="acids"
            :problem="problem('/acid', '/acid/bottle', '/acid/formula')"
          />
          <TextField v-if="typed.acidBottle === anAcid" v-model="typed.acidC" label="Strength of the acid, mol/L" />
        </fieldset>
        <fieldset>
          <legend>In the burette</legend>
          <SelectField
            v-model="typed.buretteBottle"
            class="wide"
            label="Titrant"
            :options="choices"
            :problem="problem('/burette/bottle', typed.buretteBottle ? '/burette' : '')"
          />
          <template v-if="!typed.buretteBottle">
            <TextField
              v-model="typed.buretteFormula"
              words
              label="Formula of the titrant"
              :problem="problem('/burette/formula', '/burette')"
            />
            <TextField v-model="typed.buretteC" label="Strength, mol/L" />
          </template>
          <SelectField
            v-model="typed.device"
            label="It comes from"
            :options="[
              ['burette', 'a burette'],
              ['drops', 'counted drops'],
            ]"
          />
          <SelectField
            v-if="typed.device === 'burette'"
            v-model="typed.glass"
            label="Burette"
            :options="burettes"
            :problem="problem('/glass')"
          />
          <DropperFields v-else v-model:tip="typed.tip" v-model:drop="typed.drop" :tips="tips" :problem="problem" />
          <SelectField
            v-model="typed.carbonic"
            label="Carbonate in the base"
            :options="[
              ['no', 'treated as none'],
              ['yes', 'find it too'],
            ]"
          />
        </fieldset>
        <el-button type="primary" native-type="submit" :disabled="busy"
          >Take it to the bench <kbd>Enter</kbd></el-button
        >
        <p class="small soft">
          Calibrate the meter first, in buffers on both sides. Your local rules, the safety data sheets and licensed
          waste handling come first.
        </p>
      </form>
      <MadeBefore kind="curve" @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <PreviewSide kind="curve" :run="answer" :unclear="problems.size > 0" />
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
