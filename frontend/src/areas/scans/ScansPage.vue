<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, sentence } from '@/api/client'
import MadeBefore from '@/bench/MadeBefore.vue'
import SelectField from '@/bench/SelectField.vue'
import StandinPhotometer from '@/bench/StandinPhotometer.vue'
import TextField from '@/bench/TextField.vue'
import PreviewSide from '@/bench/PreviewSide.vue'
import { vFirst } from '@/bench/first'
import { useLive } from '@/bench/live'
import { useForm } from '@/bench/useForm'
import { usePreview } from '@/bench/usePreview'
import { usePhotometers } from '@/bench/usePhotometers'
import { useTyped } from '@/bench/useTyped'
import PhotometerFields from './PhotometerFields.vue'

/** What is scanned: at wavelengths by hand, or a spectrum that a photometer or a file brings along. */
const { typed, forget } = useTyped(
  'scan',
  () => ({
    name: '',
    by: 'hand' as 'hand' | 'file' | 'photometer',
    from: '400',
    to: '700',
    step: '20',
    range: { from: '400', to: '800', step: '2' },
    low: '',
    high: '',
    photometer: '',
  }),
  ['name'],
)
/** A spectrum that was read; it is gone with the page. */
const read = ref<{ from: string; title: string; x: number[]; y: number[] }[]>([])
const which = ref('0')
const { says, send, problem: ofFile } = useForm()
const trouble = ref('')

const { photometer, options: instruments, named, trouble: away } = usePhotometers(typed)

const live = useLive()
const chosen = computed(() => read.value[Number(which.value)])
function question() {
  const t = typed.value
  const lamp = t.by === 'file' || !photometer.value ? { low: t.low || 0, high: t.high || 0 } : named()
  if (t.by === 'hand') return { name: t.name.trim(), spread: { from: t.from, to: t.to, step: t.step }, ...lamp }
  const s = chosen.value!
  return { name: t.name.trim(), x: s.x, y: s.y, from: s.from, ...lamp }
}
const answered = usePreview('scan', question, () =>
  Boolean(typed.value.name.trim() && (typed.value.by === 'hand' || chosen.value)),
)
const { answer, problems, problem, busy, computeSoon, toTheBench } = answered
watch(typed, computeSoon, { deep: true, immediate: true })
watch(chosen, computeSoon)

async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  const text = await file?.text()
  input.value = ''
  if (!file || text === undefined) return
  await send(async () => {
    const { spectra } = await ask(api.POST('/compute/spectrum', { body: { text, most: 2000 } }))
    read.value = spectra.map((s) => ({ from: `from ${file.name.slice(0, 100)}`, title: s.title, x: s.x, y: s.y }))
    which.value = '0'
    if (!typed.value.name.trim()) typed.value.name = (spectra[0]?.title || file.name).slice(0, 60)
  })
}
function took(x: number[], y: number[]) {
  read.value = [{ from: `read by ${photometer.value?.photometer.name}`, title: '', x, y }]
  which.value = '0'
}
watch(
  () => typed.value.by,
  () => (read.value = []),
)
async function start() {
  if (await toTheBench()) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section class="question">
      <h1>Where does it absorb most?</h1>
      <p v-if="trouble || answered.trouble.value || away" class="problem" role="alert">
        {{ trouble || answered.trouble.value || away }}
      </p>
      <form v-first @submit.prevent="start">
        <fieldset>
          <legend>The scan</legend>
          <TextField
            v-model="typed.name"
            words
            class="wide"
            label="What is scanned"
            :max="60"
            placeholder="Molybdate blue, the strongest tube"
            :problem="problem('/name')"
          />
          <SelectField
            v-model="typed.by"
            label="Read"
            :options="[
              ['hand', 'by hand'],
              ['file', 'from a file'],
              ...(photometer ? [['photometer', 'by the photometer'] as const] : []),
            ]"
          />
          <SelectField
            v-if="typed.by !== 'file' && instruments.length > 1"
            v-model="typed.photometer"
            label="Photometer"
            :options="instruments"
            :problem="problem('/photometer')"
          />
          <PhotometerFields
            v-if="typed.by === 'photometer' && photometer"
            v-model="typed.range"
            :photometer="photometer"
            @read="took"
          />
          <template v-else-if="typed.by === 'hand'">
            <TextField v-model="typed.from" label="From, nm" :problem="problem('/spread/from', '/wavelengths')" />
            <TextField v-model="typed.to" label="To, nm" :problem="problem('/spread/to')" />
            <TextField v-model="typed.step" label="Every, nm" :problem="problem('/spread/step')" />
          </template>
          <template v-else>
            <label class="file wide"
              >JCAMP-DX or CSV<input type="file" accept=".jdx,.dx,.jcm,.csv,.tsv,.txt" @change="take"
            /></label>
            <SelectField
              v-if="read.length > 1"
              v-model="which"
              label="Spectrum"
              class="wide"
              :options="read.map((s, i) => [String(i), s.title || `spectrum ${i + 1}`] as const)"
            />
            <p v-if="says" class="problem small wide" role="alert">{{ ofFile('/text') || says }}</p>
            <p class="problem small wide">{{ problem('/x', '/y', '/x/0') }}</p>
          </template>
          <p v-if="typed.by !== 'hand' && chosen" class="small soft all">
            {{ chosen.x.length }} points, {{ Math.min(...chosen.x) }} to {{ Math.max(...chosen.x) }} nm.
          </p>
          <template v-if="typed.by === 'file' || !photometer">
            <TextField
              v-model="typed.low"
              label="The lamp reaches from, nm"
              placeholder="any"
              :problem="problem('/low')"
            />
            <TextField v-model="typed.high" label="to, nm" placeholder="any" :problem="problem('/high')" />
          </template>
        </fieldset>
        <p class="small soft">Scan the strongest tube: the maximum is found between the readings.</p>
        <el-button type="primary" native-type="submit" :disabled="busy"
          >{{ typed.by === 'hand' ? 'Begin the scan' : 'Keep this scan' }} <kbd>Enter</kbd></el-button
        >
        <p class="small soft">Your local rules and the safety data sheets come first.</p>
      </form>
      <StandinPhotometer v-if="live.reading?.standin" />
      <MadeBefore kind="scan" once @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <PreviewSide kind="scan" :run="answer" :unclear="problems.size > 0 || !answer" />
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.all {
  grid-column: 1 / -1;
}
.file input {
  display: block;
  margin-top: 0.2rem;
}
</style>
