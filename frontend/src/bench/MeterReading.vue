<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import type { Fact, NewFact, Step } from '@/api/client'
import LiveMeter from './LiveMeter.vue'
import QuantityField from './QuantityField.vue'
import SelectField from './SelectField.vue'
import TextField from './TextField.vue'

/** A reading of a pH meter with its temperature, typed or taken live; of a sample, with
 * its name and what the probe stands in. */
type Stated = Omit<NewFact, 'id' | 'kind'>

const props = defineProps<{
  step: Step
  beside: NonNullable<Step['beside']>
  busy?: boolean
  problems?: Map<string, string>
  initial?: string
  /** The fact that is corrected. */
  corrects?: Fact
  big?: boolean
  connected?: boolean
}>()
const emit = defineEmits<{ state: [fact: Stated] }>()

const temperatureOf = (fact?: Fact) => fact?.beside?.find((q) => q.unit === '°C')
const written = (q: NonNullable<Fact['quantity']>) => q.value.toFixed(q.decimals ?? 1)
const choice = ref(props.corrects?.choice ?? props.step.options?.[0]?.id ?? '')
/** What is stated with the choice; a reading where there is none to choose. */
const takes = computed(() => props.step.options?.find((o) => o.id === choice.value)?.takes?.split(' ') ?? ['reading'])
const isTaken = (what: string) => takes.value.includes(what)

const reading = ref(isTaken('reading') ? (props.initial ?? '') : '')
const temperature = ref(temperatureOf(props.corrects)?.value.toFixed(1) ?? props.beside.default)
const name = ref(props.corrects?.name ?? '')
const text = ref(props.corrects?.text ?? '')
const low = ref(isTaken('range') && props.corrects?.quantity ? written(props.corrects.quantity) : '')
const adjusted = ref(isTaken('reading') && props.corrects?.after ? written(props.corrects.after) : '')
const high = ref(props.corrects?.after ? written(props.corrects.after) : '')
const bath = ref(isTaken('temperature') && props.corrects?.quantity ? written(props.corrects.quantity) : '')
const options = computed(() => (props.step.options ?? []).map((o) => [o.id, o.label] as const))
const problem = (field: string) => props.problems?.get(field) ?? ''
/** A meter that shows either is read as it was last time on this machine; a correction as it was taken. */
const lastUnit = useLocalStorage('vialbench.meter-unit', 'mV')
const either = computed(() => (props.step.dimensions?.length ?? 0) > 1)
const taken = ref(props.corrects?.quantity?.unit)
const unit = computed(() => taken.value ?? (either.value ? lastUnit.value : (props.step.unit ?? '')))
const label = computed(() =>
  unit.value === props.step.unit
    ? (props.step.label ?? 'Reading')
    : unit.value === 'pH'
      ? 'pH shown'
      : 'Potential shown',
)
function switchUnit() {
  const other = unit.value === 'pH' ? 'mV' : 'pH'
  if (taken.value) taken.value = other
  else lastUnit.value = other
  void nextTick(() => readingField.value?.focus())
}
const fields = useTemplateRef<HTMLElement>('fields')
const readingField = useTemplateRef('readingField')
const live = useTemplateRef('live')

onMounted(() => {
  if (options.value.length > 0 && props.big) void nextTick(() => fields.value?.querySelector('input')?.focus())
})

/** From the name on to what is read. */
function goOn() {
  if (live.value) live.value.focus()
  else if (readingField.value) readingField.value.focus()
  else fields.value?.querySelector<HTMLElement>('.seen input, .seen button')?.focus()
}

const named = () => ({
  ...(options.value.length > 0 ? { choice: choice.value } : {}),
  ...(isTaken('name') ? { name: name.value } : {}),
  ...(text.value.trim() ? { text: text.value } : {}),
})

function typed() {
  // What else was read beside it stays when a reading is corrected.
  const rest = props.corrects?.beside?.filter((q) => q.unit !== '°C').map(({ value, unit }) => ({ value, unit })) ?? []
  emit('state', {
    quantity: { text: reading.value, unit: unit.value },
    beside: [{ text: temperature.value, unit: '°C' }, ...rest],
    ...(adjusted.value.trim() ? { after: { text: adjusted.value, unit: props.step.unit } } : {}),
    ...named(),
  })
}

function seen() {
  emit('state', {
    ...(isTaken('range') ? { quantity: { text: low.value, unit: 'pH' }, after: { text: high.value, unit: 'pH' } } : {}),
    ...(isTaken('temperature') ? { quantity: { text: bath.value, unit: '°C' } } : {}),
    ...named(),
  })
}
</script>

<template>
  <div ref="fields">
    <div v-if="options.length" class="sample">
      <TextField
        v-if="isTaken('name')"
        v-model="name"
        words
        label="Sample"
        :max="60"
        :problem="problem('/name')"
        @keydown.enter.exact.prevent="goOn"
      />
      <SelectField v-model="choice" label="What is read" :options="options" :problem="problem('/choice')" />
    </div>
    <template v-if="isTaken('reading')">
      <LiveMeter
        v-if="connected"
        ref="live"
        :busy="busy"
        :autofocus="options.length === 0"
        @take="(taken) => emit('state', { ...taken, ...named() })"
        @type="readingField?.focus()"
      />
      <div class="pair">
        <QuantityField
          ref="readingField"
          v-model="reading"
          :label="label"
          :unit="unit"
          :dimensions="step.dimensions ?? []"
          :initial="initial"
          :big="big && !connected"
          :autofocus="!connected && options.length === 0"
          :problem="problem('/quantity')"
          @record="typed"
        />
        <QuantityField
          v-model="temperature"
          :label="beside.label"
          :unit="beside.unit"
          :dimensions="beside.dimensions"
          :initial="beside.default"
          :big="big && !connected"
          :problem="problem('/beside/0')"
          @record="typed"
        />
        <QuantityField
          v-if="step.then"
          v-model="adjusted"
          :label="step.then.label"
          :unit="step.then.unit"
          :dimensions="step.then.dimensions"
          :big="big && !connected"
          :problem="problem('/after')"
          @record="typed"
        />
        <TextField v-if="isTaken('note')" v-model="text" words label="Note" @keydown.enter.prevent="typed" />
      </div>
      <p v-if="big" class="small soft">
        <template v-if="step.expects && unit === step.unit"
          >A good probe shows about <span class="figure">{{ step.expects }}</span>. </template
        ><kbd>Enter</kbd> records{{ connected ? ' what is typed' : '' }}
      </p>
      <el-button v-if="either" link type="primary" @click="switchUnit">
        {{ unit === 'pH' ? 'The meter shows mV' : 'The meter shows pH' }}
      </el-button>
    </template>
    <form v-else class="seen" @submit.prevent="seen">
      <template v-if="isTaken('range')">
        <TextField v-model="low" label="From pH" :problem="problem('/quantity')" />
        <TextField v-model="high" label="to pH" :problem="problem('/after')" />
      </template>
      <TextField v-if="isTaken('temperature')" v-model="bath" label="Bath, °C" :problem="problem('/quantity')" />
      <TextField
        v-if="isTaken('words') || isTaken('note')"
        v-model="text"
        words
        :label="isTaken('words') ? 'Colour in words' : 'Note'"
        :placeholder="isTaken('words') ? 'yellow-orange' : ''"
        :problem="problem('/text')"
      />
      <el-button native-type="submit" type="primary" :disabled="busy">Record <kbd>Enter</kbd></el-button>
    </form>
  </div>
</template>

<style scoped>
.sample,
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(9.5rem, 1fr));
  gap: 0.4rem 1.2rem;
  align-items: start;
}
.pair {
  max-width: 42rem;
}
.seen {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1.2rem;
  align-items: center;
}
</style>
