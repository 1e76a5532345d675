<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type Bottle, type Indicator, type Tip } from '@/api/client'
import { useBench } from '@/bench/bench'
import DropperFields from '@/bench/DropperFields.vue'
import MadeBefore from '@/bench/MadeBefore.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import PreviewSide from '@/bench/PreviewSide.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'
import { usePreview } from '@/bench/usePreview'
import { held } from '@/bench/held'
import { useTyped } from '@/bench/useTyped'

/** What is tested, and with what: acid in one beaker, base in another, water beside; and what
 * dilution and another temperature do to it. */
const bench = useBench()
const { typed, forget } = useTyped(
  'capacity',
  () => ({
    bottle: '',
    volume: '50',
    covered: '',
    acid: '0.1',
    base: '0.1',
    acidBottle: '',
    baseBottle: '',
    dilution: '',
    baths: '',
    indicator: '',
    drink: '',
    by: 'mL' as 'mL' | 'drops',
    portion: '2.00',
    drops: '5',
    drop: '0.05',
    tip: '',
    water: 'yes' as 'yes' | 'no',
  }),
  ['covered', 'dilution', 'baths', 'drink'],
)
const bottles = shallowRef<Bottle[]>()
const indicators = shallowRef<Indicator[]>([])
const tips = shallowRef<Tip[]>([])

const names = computed(() =>
  (bottles.value ?? []).map((b): [string, string] => [b.id, `bottle ${b.number}: ${b.title}, ${b.left.toFixed(0)} mL`]),
)

/** Bottles that may be added: those of one solute. */
const titrants = (plain: string) =>
  computed((): [string, string][] => [
    ['', plain],
    ...(bottles.value ?? [])
      .filter((b) => b.formula.length > 0)
      .map((b): [string, string] => [b.id, `bottle ${b.number}: ${b.title}`]),
  ])
const acids = titrants('hydrochloric acid')
const bases = titrants('sodium hydroxide')
const colours = computed((): [string, string][] => [
  ['', 'none'],
  ...indicators.value.map((i): [string, string] => [i.key, `${i.name}, pH ${i.from.toFixed(1)} to ${i.to.toFixed(1)}`]),
])

function question() {
  const t = typed.value
  return {
    bottle: t.bottle,
    volume: t.volume,
    covered: t.covered || 0,
    acid: t.drink.trim() || t.acidBottle ? 0 : t.acid || 0,
    base: t.baseBottle ? 0 : t.base || 0,
    acidBottle: t.drink.trim() ? '' : t.acidBottle,
    baseBottle: t.baseBottle,
    dilution: t.dilution || 0,
    baths: t.baths.split(/[\s;]+/).filter(Boolean),
    indicator: t.indicator,
    drink: t.drink.trim(),
    ...(t.by === 'drops'
      ? { portion: 0, drops: t.drops, ...(t.tip ? { tip: t.tip } : { drop: t.drop }) }
      : { portion: t.portion }),
    water: t.water === 'yes',
    celsius: bench.bench?.waterTemperature ?? 20,
  }
}
const { answer, problems, problem, trouble, busy, computeSoon, toTheBench } = usePreview('capacity', question, () =>
  Boolean(bottles.value?.some((b) => b.id === typed.value.bottle)),
)
watch(typed, computeSoon, { deep: true })
watch([bottles, () => bench.bench], computeSoon)
const design = computed(() => (answer.value?.plan.kind === 'capacity' ? answer.value.plan.design : undefined))
/** Takes the portion that is proposed. */
const take = (portion: string) => (typed.value[typed.value.by === 'drops' ? 'drops' : 'portion'] = portion)
const { look } = useLook(
  async () => {
    await bench.known()
    const [page, library, droppers] = await Promise.all([
      ask(api.GET('/bottles')),
      ask(api.GET('/indicators')),
      ask(api.GET('/tips')),
    ])
    indicators.value = library
    tips.value = droppers
    if (!droppers.some((t) => t.run === typed.value.tip)) typed.value.tip = ''
    bottles.value = page.items.filter((b) => b.state === 'shelf')
    if (!bottles.value.some((b) => b.id === typed.value.bottle)) {
      const buffer = bottles.value.find((b) => held(b, 'pH').length > 0) ?? bottles.value[0]
      typed.value.bottle = buffer?.id ?? ''
    }
    const there = (id: string) => (bottles.value?.some((b) => b.id === id) ? id : '')
    typed.value.acidBottle = there(typed.value.acidBottle)
    typed.value.baseBottle = there(typed.value.baseBottle)
  },
  ['shelf', 'bench'],
  trouble,
)

async function start() {
  if (await toTheBench()) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section class="question">
      <h1>Which buffer, and what is done to it?</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <p v-if="bottles?.length === 0" class="soft">
        Nothing on the shelf yet. <RouterLink to="/buffers">Make a buffer</RouterLink>, then test it here.
      </p>
      <form v-if="bottles?.length" v-first @submit.prevent="start">
        <fieldset>
          <legend>What is tested</legend>
          <SelectField
            v-model="typed.bottle"
            label="Buffer"
            class="wide"
            :options="names"
            :problem="problem('/bottle', '/name')"
          />
          <TextField v-model="typed.volume" label="In each beaker, mL" :problem="problem('/volume')" />
          <TextField v-model="typed.covered" label="Water to cover the probe, mL" :problem="problem('/covered')" />
        </fieldset>
        <fieldset>
          <legend>Acid in one beaker, base in another</legend>
          <SelectField
            v-model="typed.acidBottle"
            label="Acid"
            :options="acids"
            :problem="problem('/acidBottle', '/acidFrom')"
          />
          <TextField
            v-if="!typed.acidBottle"
            v-model="typed.acid"
            label="Hydrochloric acid, mol/L"
            :problem="problem('/acid')"
          />
          <SelectField
            v-model="typed.baseBottle"
            label="Base"
            :options="bases"
            :problem="problem('/baseBottle', '/baseFrom')"
          />
          <TextField
            v-if="!typed.baseBottle"
            v-model="typed.base"
            label="Sodium hydroxide, mol/L"
            :problem="problem('/base')"
          />
          <TextField
            v-model="typed.drink"
            words
            label="Or an acid of unknown strength"
            placeholder="a soft drink"
            :problem="problem('/drink')"
          />
          <SelectField
            v-model="typed.by"
            label="Added by"
            :options="[
              ['mL', 'volume'],
              ['drops', 'counted drops'],
            ]"
          />
          <TextField
            v-if="typed.by === 'mL'"
            v-model="typed.portion"
            label="Portion, mL"
            :problem="problem('/portion')"
          />
          <template v-else>
            <TextField v-model="typed.drops" label="Drops at a time" :problem="problem('/drops', '/portion')" />
            <DropperFields v-model:tip="typed.tip" v-model:drop="typed.drop" :tips="tips" :problem="problem" />
          </template>
          <SelectField
            v-model="typed.water"
            label="Water beside it"
            :options="[
              ['yes', 'yes, as a control'],
              ['no', 'no'],
            ]"
          />
        </fieldset>
        <fieldset>
          <legend>In further beakers, if you like</legend>
          <TextField
            v-model="typed.dilution"
            label="Diluted, mL of water at a time"
            placeholder="none"
            :problem="problem('/dilution')"
          />
          <TextField
            v-model="typed.baths"
            label="Warmed and cooled, °C"
            placeholder="40 5"
            :problem="problem('/baths', '/baths/0', '/baths/1', '/baths/2', '/baths/3')"
          />
          <SelectField
            v-model="typed.indicator"
            label="Indicator in these"
            :options="colours"
            :problem="problem('/indicator')"
          />
        </fieldset>
        <el-button type="primary" native-type="submit" :disabled="busy">Set up the beakers <kbd>Enter</kbd></el-button>
        <p class="small soft">
          The pH is read before anything is added, and after each portion. Your local rules and the safety data sheets
          come first.
        </p>
      </form>
      <MadeBefore kind="capacity" once @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <PreviewSide v-if="bottles?.length" kind="capacity" :run="answer" :unclear="problems.size > 0">
      <template v-if="design?.moves" #first>
        <p>{{ design.moves }}</p>
        <el-button v-if="design.take" @click="take(design.take)"
          >Take {{ design.take }} {{ typed.by === 'drops' ? 'drops' : 'mL' }} instead</el-button
        >
      </template>
    </PreviewSide>
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
