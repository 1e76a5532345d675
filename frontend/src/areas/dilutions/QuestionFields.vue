<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import type { DilutionQuestion } from '@/api/client'
import { vFirst } from '@/bench/first'
import QuantityField from '@/bench/QuantityField.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { isListed, isWeighed, type Typed } from './question'

/** What is asked of a dilution: from what, to what, how much. The rest is folded under one
 * line that says what it is set to. */
const props = defineProps<{
  stocks: [string, string][]
  stock?: DilutionQuestion['stock']
  balance?: string
  problems: Map<string, string>
}>()
const typed = defineModel<Typed>({ required: true })

const problem = (...fields: string[]) => fields.map((f) => props.problems.get(f)).find(Boolean) ?? ''
const first = (pattern: RegExp) => [...props.problems].find(([field]) => pattern.test(field))?.[1] ?? ''
const unit = computed(() => props.stock?.unit ?? 'its unit')
const listed = computed(() => isListed(typed.value))
const weighed = computed(() => isWeighed(typed.value))
const listProblem = computed(() => first(/^\/(targets|volumes)(\/|$)/))
const ways: Record<Typed['as'], string> = {
  volumes: 'volumes of stock',
  targets: 'concentrations',
  even: 'concentrations, evenly',
  factor: 'concentrations, by one factor',
}
const objectives: [Typed['objective'], string][] = [
  ['uncertainty', 'least uncertainty'],
  ['liquid', 'least liquid'],
  ['steps', 'fewest steps'],
  ['mixed', 'a bit of each'],
]
const folded = /^\/(stock\/expanded|stock\/density|maxLiquid|maxStock|balance|inFlasks|keep|rinse)/
/** What has to be seen is unfolded, and stays so. */
const open = ref(false)
watchEffect(() => {
  const wrong = [...props.problems.keys()].some((field) => folded.test(field))
  if (wrong || (weighed.value && !props.stock?.density)) open.value = true
})
const summary = computed(() => {
  const t = typed.value
  const parts = []
  if (!t.bottle) parts.push(t.stockKnown ? `stock ± ${t.stockKnown}` : 'stock counts as exact')
  if (t.mode === 'one' && !weighed.value)
    parts.push(
      `at most ${t.steps} ${t.steps === '1' ? 'step' : 'steps'}`,
      objectives.find(([o]) => o === t.objective)?.[1] ?? '',
    )
  if (t.mode === 'series') parts.push(t.into === 'tubes' ? 'tubes, by two burettes' : 'flasks, to the mark')
  if (t.mode !== 'series' || t.into === 'flasks') parts.push(weighed.value ? 'weighed' : 'measured by volume')
  if (t.mode !== 'series') parts.push(`${t.keep || '0'} mL kept of each`)
  parts.push(`${t.rinse || '0'} mL to rinse`)
  return parts.filter(Boolean).join(', ')
})
</script>

<template>
  <div v-first class="fields">
    <SelectField
      v-model="typed.bottle"
      label="From"
      filterable
      :options="stocks"
      :problem="problem('/stock/concentration', '/stock/bottle', '/stock/unit')"
    />
    <QuantityField
      v-if="!typed.bottle"
      v-model="typed.stock"
      label="Strength of the stock"
      unit="mol/L"
      :dimensions="['amount concentration', 'mass concentration', 'equivalents']"
      initial="0.1000 mol/L"
    />
    <template v-if="typed.mode === 'one'">
      <TextField
        v-model="typed.wanted"
        words
        :label="`To (1 in 100, 1 + 99, or a figure in ${unit})`"
        :problem="problem('/factor', '/target')"
      />
      <TextField v-model="typed.volume" label="How much of it, mL" :problem="problem('/volume')" />
    </template>
    <template v-else-if="typed.mode === 'series'">
      <SelectField v-model="typed.as" label="Tubes by" :options="Object.entries(ways) as [Typed['as'], string][]" />
      <TextField
        v-if="listed"
        v-model="typed.list"
        words
        :label="typed.as === 'volumes' ? 'mL of stock in each, 0 is the blank' : `Concentrations, ${unit}`"
        :problem="listProblem"
      />
      <template v-else>
        <TextField v-model="typed.from" :label="`From, ${unit}`" :problem="problem('/spread/from') || listProblem" />
        <TextField v-model="typed.to" :label="`to, ${unit}`" :problem="problem('/spread/to')" />
        <TextField v-model="typed.count" label="how many" :problem="problem('/spread/count')" />
      </template>
      <TextField v-model="typed.each" label="Each in all, mL" :problem="problem('/volume')" />
    </template>
    <div v-else class="stages">
      <span class="label">Stages: {{ typed.factors.length }}</span>
      <div>
        <el-button :disabled="typed.factors.length >= 12" @click="typed.factors = [...typed.factors, '10']"
          >One more</el-button
        >
        <el-button :disabled="typed.factors.length <= 1" @click="typed.factors = typed.factors.slice(0, -1)"
          >One less</el-button
        >
      </div>
      <p class="small soft">Type the factors below the vials.</p>
    </div>
  </div>
  <details class="fold" :open="open" @toggle="(e) => (open = (e.target as HTMLDetailsElement).open)">
    <summary>
      Details <span class="soft">{{ summary }}</span>
    </summary>
    <div class="fields">
      <TextField
        v-if="!typed.bottle"
        v-model="typed.stockKnown"
        :label="`Stock known within ±, ${unit}, k = 2`"
        placeholder="counts as exact"
        :problem="problem('/stock/expanded')"
      />
      <template v-if="typed.mode === 'one' && !weighed">
        <SelectField
          v-model="typed.steps"
          label="In at most"
          :options="[
            ['1', '1 step'],
            ['2', '2 steps'],
            ['3', '3 steps'],
            ['4', '4 steps'],
          ]"
        />
        <TextField v-model="typed.maxLiquid" label="Liquid in all at most, mL" :problem="problem('/maxLiquid')" />
        <TextField v-model="typed.maxStock" label="Stock at most, mL" :problem="problem('/maxStock')" />
        <SelectField v-model="typed.objective" label="Best is" :options="objectives" />
      </template>
      <SelectField
        v-if="typed.mode === 'series'"
        v-model="typed.into"
        label="Made in"
        :options="[
          ['tubes', 'tubes, by two burettes'],
          ['flasks', 'flasks, to the mark'],
        ]"
      />
      <SelectField
        v-if="typed.mode !== 'series' || typed.into === 'flasks'"
        v-model="typed.portions"
        label="Stock is"
        :options="[
          ['measured', 'measured by volume'],
          ['weighed', balance ? `weighed, on ${balance}` : 'weighed'],
        ]"
        :problem="problem('/balance', '/inFlasks')"
      />
      <template v-if="weighed && !stock?.density">
        <TextField v-model="typed.density" label="Density at 20 °C, g/mL" :problem="problem('/stock/density')" />
        <TextField
          v-model="typed.densityLimits"
          label="known within ±, g/mL"
          :problem="problem('/stock/densityLimits')"
        />
      </template>
      <TextField
        v-if="typed.mode !== 'series'"
        v-model="typed.keep"
        label="Kept of each, mL"
        :problem="problem('/keep')"
      />
      <TextField v-model="typed.rinse" label="To rinse the pipette, mL" :problem="problem('/rinse')" />
    </div>
  </details>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11.5rem, 1fr));
  gap: 0 1.1rem;
  max-width: 74rem;
}
/* Labels of one line or two, fields, and what is said below them: each in one row. */
.fields > * {
  display: grid;
  grid-row: span 3;
  grid-template-rows: subgrid;
  grid-template-columns: minmax(0, 1fr);
}
.fields :deep(label),
.label {
  align-self: end;
  font-size: 0.87rem;
  color: var(--ink-soft);
}
.fields :deep(p) {
  min-height: 1.4em;
  margin: 0.15rem 0 0;
}
.stages > div {
  display: flex;
  gap: 0.6rem;
}
.stages > div .el-button {
  margin: 0;
}
.fold summary {
  cursor: pointer;
  font-weight: 700;
}
.fold summary .soft {
  font-weight: 400;
  margin-left: 0.6rem;
}
</style>
