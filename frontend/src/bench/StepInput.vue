<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import type { Fact, NewFact, Step } from '@/api/client'
import BuretteScale from './BuretteScale.vue'
import CountField from './CountField.vue'
import { useLive } from './live'
import LiveBalance from './LiveBalance.vue'
import LivePhotometer from './LivePhotometer.vue'
import MeterReading from './MeterReading.vue'
import QuantityField from './QuantityField.vue'
import { vFirst } from './first'

/** What a step asks for, stated once: a reading, a count, an answer, or the label.
 * It serves the step at hand and the correction of an earlier fact alike. */
type Stated = Omit<NewFact, 'id' | 'kind'>

const props = defineProps<{
  step: Step
  busy?: boolean
  problems?: Map<string, string>
  /** What a correction begins with; the reading after is there when two were taken. */
  initial?: string
  initialAfter?: string
  /** The fact that is corrected. */
  corrects?: Fact
  big?: boolean
}>()
const emit = defineEmits<{ state: [fact: Stated] }>()

const reading = ref(props.initial ?? props.step.default ?? '')
const before = ref(props.initialAfter === undefined ? '' : (props.initial ?? ''))
const after = ref(props.initialAfter ?? '')
const afterField = useTemplateRef('afterField')
const readingField = useTemplateRef('readingField')
const liveReading = useTemplateRef('liveReading')
const byDifference = ref(props.initialAfter !== undefined)
const expires = ref(props.initial ?? props.step.default ?? '')
const remark = ref(props.corrects?.text ?? '')
const unit = computed(() => props.step.unit ?? '')
const live = useLive()
/** The step at hand takes readings of a connected instrument. */
const connected = computed(() => props.big && props.step.instrument !== undefined && live.instrument !== undefined)
const problem = (field: string) => props.problems?.get(field) ?? ''
const quantity = (text: string) => ({ text, unit: unit.value })
/** What is said of the reading beside it. */
const remarks = ref<string[]>((props.step.remarks && props.corrects?.text?.split(', ')) || [])
/** Back to the reading that the remark is of. */
const onward = () => (connected.value ? liveReading.value : readingField.value)?.focus()
function withRemarks(stated: Stated) {
  emit('state', remarks.value.length ? { ...stated, text: remarks.value.join(', ') } : stated)
  remarks.value = []
}
</script>

<template>
  <div class="step-input">
    <MeterReading
      v-if="step.beside"
      :step="step"
      :beside="step.beside"
      :busy="busy"
      :problems="problems"
      :initial="initial"
      :corrects="corrects"
      :big="big"
      :connected="connected"
      @state="(stated) => emit('state', stated)"
    />
    <template v-else-if="step.input === 'quantity'">
      <LivePhotometer
        v-if="connected && step.wavelength"
        ref="liveReading"
        :nm="step.wavelength"
        :zeroing="step.tares ?? false"
        :busy="busy"
        @take="withRemarks"
        @type="readingField?.focus()"
      />
      <LiveBalance
        v-else-if="connected && !byDifference"
        :taring="step.tares ?? false"
        :busy="busy"
        @take="withRemarks"
        @type="readingField?.focus()"
      />
      <div v-if="!byDifference" class="line">
        <QuantityField
          ref="readingField"
          v-model="reading"
          :label="step.label ?? 'Reading'"
          :unit="unit"
          :dimensions="step.dimensions ?? []"
          :initial="initial ?? step.default"
          :big="big && !connected"
          :autofocus="!connected"
          :problem="problem('/quantity')"
          @record="(text) => withRemarks({ quantity: quantity(text) })"
        />
        <p v-if="big" class="hint small soft">
          <template v-if="step.expects"
            >About <span class="figure">{{ step.expects }}</span> expected: type what you read. </template
          ><kbd>Enter</kbd> records{{ connected ? ' what is typed' : '' }}
        </p>
      </div>
      <div v-else class="pair">
        <QuantityField
          v-model="before"
          label="Vessel before pouring out"
          :unit="unit"
          :dimensions="step.dimensions ?? []"
          autofocus
          :problem="problem('/quantity')"
          @record="afterField?.focus()"
        />
        <QuantityField
          ref="afterField"
          v-model="after"
          label="Vessel after pouring out"
          :unit="unit"
          :dimensions="step.dimensions ?? []"
          :problem="problem('/after')"
          @record="(text) => emit('state', { quantity: quantity(before), after: quantity(text) })"
        />
      </div>
      <el-checkbox-group v-if="step.remarks" v-model="remarks" class="remarks" aria-label="Remark" @change="onward">
        <el-checkbox v-for="r in step.remarks" :key="r" :value="r">{{ r }}</el-checkbox>
      </el-checkbox-group>
      <el-button v-if="step.byDifference" link type="primary" @click="byDifference = !byDifference">
        {{ byDifference ? 'One net reading instead' : 'By difference, two readings' }}
      </el-button>
    </template>

    <div v-else-if="step.input === 'readings'" class="pair with-scale">
      <BuretteScale v-if="big && step.scale" :scale="step.scale" :before="before" :after="after" class="scale" />
      <QuantityField
        v-model="before"
        label="Reading before"
        :unit="unit"
        :dimensions="step.dimensions ?? []"
        autofocus
        :problem="problem('/quantity')"
        @record="afterField?.focus()"
      />
      <QuantityField
        ref="afterField"
        v-model="after"
        label="Reading after"
        :unit="unit"
        :dimensions="step.dimensions ?? []"
        :problem="problem('/after')"
        @record="(text) => emit('state', { quantity: quantity(before), after: quantity(text) })"
      />
    </div>

    <CountField
      v-else-if="step.input === 'count' || step.input === 'drops'"
      v-slot="{ record }"
      :label="step.label ?? 'How many times'"
      :tally="step.input === 'drops' && big ? 'One drop' : undefined"
      :unit="unit"
      :initial="initial ?? step.default ?? ''"
      :problem="problem('/count')"
      autofocus
      :big="big"
      @record="(count) => emit('state', { count })"
    >
      <el-button :disabled="busy" type="primary" @click="record">Record <kbd>Enter</kbd></el-button>
    </CountField>

    <div v-else-if="step.input === 'choice'" v-first="big" class="options" role="group" :aria-label="step.title">
      <el-button
        v-for="(option, i) in step.options"
        :key="option.id"
        :type="i === 0 && big ? 'primary' : undefined"
        :disabled="busy"
        @click="emit('state', { choice: option.id })"
      >
        <span v-if="big" class="digit figure">{{ i + 1 }}</span>{{ option.label }}
      </el-button>
    </div>

    <form v-else v-first="big" class="label-form" @submit.prevent="emit('state', { date: expires, text: remark })">
      <label>Keeps until<el-input v-model="expires" maxlength="10" class="figure" required /></label>
      <label class="wide">Remark for the label’s record<el-input v-model="remark" maxlength="300" /></label>
      <el-button type="primary" native-type="submit" :disabled="busy">Label it <kbd>Enter</kbd></el-button>
      <p v-if="problem('/date')" class="problem small">{{ problem('/date') }}</p>
    </form>
  </div>
</template>

<style scoped>
.remarks {
  display: flex;
  flex-wrap: wrap;
  gap: 0 1.2rem;
}
.remarks .el-checkbox {
  margin: 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.2rem 1rem;
}
.line > :first-child {
  flex: 0 1 20rem;
  min-width: 0;
}
.pair {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 15rem));
  gap: 1rem;
}
.with-scale {
  grid-template-columns: minmax(0, 15rem) minmax(0, 15rem);
}
.with-scale:has(.scale) {
  grid-template-columns: auto minmax(0, 13rem) minmax(0, 13rem);
}
.options {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
}
.digit {
  font-size: 0.8em;
  margin-right: 0.6em;
}
.label-form {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 0.8rem;
}
.wide {
  flex: 1;
  min-width: 12rem;
}
</style>
