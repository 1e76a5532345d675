<script setup lang="ts">
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
const reading = ref(props.initial ?? '')
const temperature = ref(temperatureOf(props.corrects)?.value.toFixed(1) ?? props.beside.default)
const name = ref(props.corrects?.text ?? '')
const choice = ref(props.corrects?.choice ?? props.step.options?.[0]?.id ?? '')
const isSample = computed(() => props.step.input === 'sample')
const isCheck = computed(() => choice.value.startsWith('check '))
const options = computed(() => (props.step.options ?? []).map((o) => [o.id, o.label] as const))
const problem = (field: string) => props.problems?.get(field) ?? ''
const fields = useTemplateRef<HTMLElement>('fields')
const readingField = useTemplateRef('readingField')
const live = useTemplateRef('live')

onMounted(() => {
  if (isSample.value && props.big) void nextTick(() => fields.value?.querySelector('input')?.focus())
})

function toTheReading() {
  if (live.value) live.value.focus()
  else readingField.value?.focus()
}

const named = () => (isSample.value ? { choice: choice.value, ...(isCheck.value ? {} : { text: name.value }) } : {})

function typed() {
  // What else was read beside it stays when a reading is corrected.
  const rest = props.corrects?.beside?.filter((q) => q.unit !== '°C').map(({ value, unit }) => ({ value, unit })) ?? []
  emit('state', {
    quantity: { text: reading.value, unit: props.step.unit },
    beside: [{ text: temperature.value, unit: '°C' }, ...rest],
    ...named(),
  })
}
</script>

<template>
  <div ref="fields">
    <div v-if="isSample" class="sample">
      <TextField
        v-if="!isCheck"
        v-model="name"
        words
        label="Sample"
        :problem="problem('/text')"
        @keydown.enter.prevent="toTheReading"
      />
      <SelectField v-model="choice" label="The probe stands in" :options="options" :problem="problem('/choice')" />
    </div>
    <LiveMeter
      v-if="connected"
      ref="live"
      :busy="busy"
      :autofocus="!isSample"
      @take="(taken) => emit('state', { ...taken, ...named() })"
      @type="readingField?.focus()"
    />
    <div class="pair">
      <QuantityField
        ref="readingField"
        v-model="reading"
        :label="step.label ?? 'Reading'"
        :unit="step.unit ?? ''"
        :dimensions="step.dimensions ?? []"
        :initial="initial"
        :big="big && !connected"
        :autofocus="!connected && !isSample"
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
    </div>
    <p v-if="big" class="small soft">
      <template v-if="step.expects"
        >A good probe shows about <span class="figure">{{ step.expects }}</span>.
      </template>
      <kbd>Enter</kbd> records{{ connected ? ' what is typed' : '' }}
    </p>
  </div>
</template>

<style scoped>
.sample,
.pair {
  display: grid;
  grid-template-columns: minmax(0, 16rem) minmax(0, 14rem);
  gap: 0.4rem 1.2rem;
  align-items: start;
}
.sample {
  grid-template-columns: minmax(0, 14rem) minmax(0, 22rem);
}
</style>
