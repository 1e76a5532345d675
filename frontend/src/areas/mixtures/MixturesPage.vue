<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type PastLine } from '@/api/client'
import MadeBefore from '@/bench/MadeBefore.vue'
import PreviewSide from '@/bench/PreviewSide.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'
import { usePhotometers } from '@/bench/usePhotometers'
import { usePreview } from '@/bench/usePreview'
import { useTyped } from '@/bench/useTyped'
import { linesFor, paired, questionOf, settle, shared, typedQuestion } from './question'

/** Which two substances, at which two wavelengths, and in which samples. */
const { typed, forget } = useTyped('mixture', typedQuestion, ['samples'])
const lines = shallowRef<PastLine[]>()
const { list: photometers, options: instruments, named, trouble: away } = usePhotometers(typed)
const firsts = computed(() => paired(lines.value ?? []))
const seconds = computed(() => paired(lines.value ?? [], typed.value.first))
const wavelengths = computed(() =>
  shared(lines.value ?? [], typed.value.first, typed.value.second).map((nm) => [String(nm), `${nm} nm`] as const),
)
const used = computed(() => linesFor(lines.value ?? [], typed.value))

const question = () => ({ ...questionOf(typed.value, lines.value ?? []), ...named() })
const { answer, problems, problem, trouble, busy, computeSoon, toTheBench } = usePreview(
  'mixture',
  question,
  () => used.value.length === 4 && typed.value.samples.some((s) => s.name.trim()),
)
const { look } = useLook(
  async () => {
    lines.value = await ask(api.GET('/lines'))
  },
  ['absorbance', 'setup'],
  trouble,
)
watch(
  [() => [typed.value.first, typed.value.second, ...typed.value.at], lines],
  () => lines.value && settle(typed.value, lines.value),
  { deep: true },
)
watch(typed, computeSoon, { deep: true })
watch(lines, computeSoon)

const add = () => typed.value.samples.push({ name: '', diluted: '' })
const drop = (i: number) => typed.value.samples.splice(i, 1)
/** The place of a sample among those that have a name: that of its problems. */
const place = (i: number) => typed.value.samples.slice(0, i).filter((s) => s.name.trim()).length
async function start() {
  if (await toTheBench()) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section class="question">
      <h1>Two substances in one solution</h1>
      <p v-if="trouble || away" class="problem" role="alert">
        {{ trouble || away }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <p v-if="!lines && !trouble" class="soft">Looking up the lines…</p>
      <template v-else-if="lines && !firsts.length">
        <p>
          Each of the two needs a line of its own at the same two wavelengths, in the same cell: four lines in all.
          <RouterLink to="/absorbance">Measure them</RouterLink> first.
        </p>
        <p class="soft">Choose wavelengths where one absorbs much and the other little: a scan of each shows them.</p>
      </template>
      <form v-else-if="lines" v-first @submit.prevent="start">
        <fieldset>
          <legend>The lines</legend>
          <SelectField
            v-model="typed.first"
            label="First substance"
            :options="firsts.map((name) => [name, name] as const)"
          />
          <SelectField
            v-model="typed.second"
            label="Second substance"
            :options="seconds.map((name) => [name, name] as const)"
          />
          <SelectField v-model="typed.at[0]" label="Read at" :options="wavelengths" />
          <SelectField v-model="typed.at[1]" label="and at" :options="wavelengths" />
          <p class="small soft all">
            The newest lines:
            <template v-for="(l, i) in used" :key="l.run"
              ><RouterLink :to="`/runs/${l.run}`">run {{ l.number }}</RouterLink
              >{{ i < used.length - 1 ? ', ' : '.' }}</template
            >
          </p>
          <p class="problem small all">
            {{ problem('/lines', '/lines/0', '/lines/1', '/lines/2', '/lines/3', '/wavelengths') }}
          </p>
        </fieldset>
        <fieldset v-for="(s, i) in typed.samples" :key="i">
          <legend>
            Sample {{ i + 1 }}
            <el-button
              v-if="typed.samples.length > 1"
              link
              type="primary"
              size="small"
              :aria-label="`Leave sample ${i + 1} out`"
              @click="drop(i)"
              >Leave it out</el-button
            >
          </legend>
          <TextField
            v-model="s.name"
            words
            :label="`Name of sample ${i + 1}`"
            :max="60"
            placeholder="Stream above the weir"
            :problem="s.name.trim() ? problem(`/samples/${place(i)}/name`) : ''"
          />
          <TextField
            v-model="s.diluted"
            label="Diluted before, times"
            placeholder="1"
            :problem="s.name.trim() ? problem(`/samples/${place(i)}/diluted`) : ''"
          />
        </fieldset>
        <p><el-button @click="add">Another sample</el-button></p>
        <fieldset>
          <legend>How they are read</legend>
          <SelectField
            v-if="photometers.length"
            v-model="typed.photometer"
            label="Photometer"
            :options="instruments"
            :problem="problem('/photometer', '/wavelengths/0', '/wavelengths/1')"
          />
          <SelectField
            v-model="typed.replicates"
            label="Each sample is read"
            :options="[
              ['1', 'once'],
              ['2', 'twice'],
              ['3', '3 times'],
            ]"
            :problem="problem('/replicates')"
          />
        </fieldset>
        <el-button type="primary" native-type="submit" :disabled="busy"
          >Begin with the blank <kbd>Enter</kbd></el-button
        >
        <p class="small soft">Your local rules and the safety data sheets come first.</p>
      </form>
      <MadeBefore kind="mixture" once @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <PreviewSide v-if="firsts.length" kind="mixture" :run="answer" :unclear="problems.size > 0 || !answer" />
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.all {
  grid-column: 1 / -1;
}
</style>
