<script setup lang="ts">
import { computed, onMounted, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type Bottle, type PastLine } from '@/api/client'
import MadeBefore from '@/bench/MadeBefore.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import PreviewSide from '@/bench/PreviewSide.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'
import { usePhotometers } from '@/bench/usePhotometers'
import { usePreview } from '@/bench/usePreview'
import { useTyped } from '@/bench/useTyped'
import { questionOf, readable, typedQuestion } from './question'
import AdditionsFields from './AdditionsFields.vue'
import TubesField from './TubesField.vue'
import UnknownFields from './UnknownFields.vue'

/** Which standards, at which wavelength, and whose unknowns are read from their line. */
const { typed, forget, fillIn } = useTyped('absorbance', typedQuestion, ['tubes', 'unknowns', 'line'])
onMounted(fillIn)
const bottles = shallowRef<Bottle[]>()
const lines = shallowRef<PastLine[]>([])
const tubes = computed(() => readable(bottles.value ?? []))
const samples = computed(() => (bottles.value ?? []).filter((b) => b.state === 'shelf'))

const { list: photometers, options: instruments, named, trouble: away } = usePhotometers(typed)
const question = () => ({ ...questionOf(typed.value, lines.value), ...named() })
const { answer, problems, problem, trouble, busy, computeSoon, toTheBench } = usePreview('absorbance', question, () => {
  const t = typed.value
  if (!bottles.value) return false
  if (t.from === 'line') return lines.value.length > 0 && t.unknowns.some((u) => u.name.trim() || u.bottle)
  if (t.from === 'additions') return Boolean(t.substance.trim() && t.added.trim())
  return Boolean(t.substance.trim() && (t.from === 'shelf' ? t.tubes.length > 2 : t.typed.trim()))
})
watch(typed, computeSoon, { deep: true })
watch([bottles, lines], computeSoon)
const { look } = useLook(
  async () => {
    const [page, past] = await Promise.all([ask(api.GET('/bottles')), ask(api.GET('/lines'))])
    lines.value = past
    bottles.value = page.items
    const there = new Set(samples.value.map((b) => b.id))
    typed.value.tubes = typed.value.tubes.filter((id) => there.has(id))
    if (!past.some((l) => l.run === typed.value.line)) typed.value.line = past[0]?.run ?? ''
    if (typed.value.from === 'line' && !past.length) typed.value.from = 'shelf'
  },
  ['shelf', 'absorbance', 'setup'],
  trouble,
)
const sources = computed((): [typeof typed.value.from, string][] => [
  ['shelf', 'tubes on the shelf'],
  ['typed', 'standards that are not on record'],
  ['additions', 'additions of a standard to the sample'],
  ...(lines.value.length ? [['line' as const, 'a line that was measured before'] as ['line', string]] : []),
])

async function start() {
  if (await toTheBench()) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section class="question">
      <h1>What is measured by its colour?</h1>
      <p v-if="trouble || away" class="problem" role="alert">
        {{ trouble || away }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <form v-if="bottles" v-first @submit.prevent="start">
        <fieldset>
          <legend>The line</legend>
          <SelectField
            v-model="typed.from"
            label="Read from"
            :options="sources"
            class="wide"
            :problem="problem('/line')"
          />
          <SelectField
            v-if="typed.from === 'line'"
            v-model="typed.line"
            label="Line"
            class="wide"
            :problem="problem('/wavelength', '/path')"
            :options="lines.map((l) => [l.run, `run ${l.number}: ${l.title}`] as const)"
          />
          <template v-else>
            <TextField
              v-model="typed.substance"
              words
              class="wide"
              label="What is measured"
              :max="60"
              placeholder="Phosphate as molybdate blue"
              :problem="problem('/substance')"
            />
            <TextField v-model="typed.wavelength" label="Wavelength, nm" :problem="problem('/wavelength')" />
            <TextField v-model="typed.path" label="Path through the cell, mm" :problem="problem('/path')" />
            <TubesField
              v-if="typed.from === 'shelf'"
              v-model="typed.tubes"
              class="all"
              :bottles="tubes"
              :problem="problem('/bottles', '/standards', ...typed.tubes.map((_, i) => `/bottles/${i}`))"
            />
            <AdditionsFields v-else-if="typed.from === 'additions'" v-model="typed" :tubes="tubes" :problem="problem" />
            <template v-else>
              <TextField
                v-model="typed.typed"
                words
                label="Concentrations"
                :max="200"
                :problem="
                  problem(
                    '/typed',
                    '/standards',
                    ...typed.typed.split(/\s+/).flatMap((_, i) => [`/typed/${i}`, `/standards/${i}`]),
                  )
                "
              />
              <TextField v-model="typed.unit" words label="Unit" :problem="problem('/unit')" />
            </template>
          </template>
          <p v-if="typed.from === 'shelf' && !tubes.length" class="soft all">
            No tubes on the shelf yet. <RouterLink to="/dilutions">Make a series with its blank</RouterLink> first, or
            type concentrations.
          </p>
        </fieldset>
        <UnknownFields
          v-if="typed.from !== 'additions'"
          v-model="typed.unknowns"
          :bottles="samples"
          :problem="problem"
        />
        <fieldset>
          <legend>How it is read</legend>
          <SelectField
            v-if="photometers.length"
            v-model="typed.photometer"
            label="Photometer"
            :options="instruments"
            :problem="problem('/photometer')"
          />
          <SelectField
            v-model="typed.cells"
            label="Cells"
            :options="[
              ['1', 'one, from dilute to strong'],
              ['2', 'two, matched first'],
              ['3', 'three, matched first'],
              ['4', 'four, matched first'],
            ]"
            :problem="problem('/cells')"
          />
          <SelectField
            v-model="typed.replicates"
            label="Each tube is read"
            :options="[
              ['1', 'once'],
              ['2', 'twice'],
              ['3', '3 times'],
            ]"
            :problem="problem('/replicates')"
          />
          <template v-if="typed.from === 'shelf' || typed.from === 'typed'">
            <SelectField
              v-model="typed.scatter"
              label="Readings of the line scatter"
              :options="[
                ['alike', 'all alike'],
                ['grows', 'more when strong'],
              ]"
              :problem="problem('/scatter')"
            />
            <template v-if="typed.scatter === 'grows'">
              <TextField v-model="typed.floor" label="Near zero by, AU" :problem="problem('/scatter/floor')" />
              <TextField v-model="typed.part" label="And by % of the reading" :problem="problem('/scatter/part')" />
            </template>
          </template>
          <el-checkbox v-if="typed.from !== 'additions'" v-model="typed.guess">Guess unknowns by eye first</el-checkbox>
          <el-checkbox v-model="typed.warm">Read the temperature too</el-checkbox>
        </fieldset>
        <el-button type="primary" native-type="submit" :disabled="busy"
          >Begin with the blank <kbd>Enter</kbd></el-button
        >
        <p class="small soft">Your local rules and the safety data sheets come first.</p>
      </form>
      <MadeBefore kind="absorbance" once @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <PreviewSide v-if="bottles" kind="absorbance" :run="answer" :unclear="problems.size > 0 || !answer" />
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.all {
  grid-column: 1 / -1;
}
</style>
