<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import type { Bottle, Settings } from '@/api/client'
import { vFirst } from '@/bench/first'
import QuantityField from '@/bench/QuantityField.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import type { Typed } from './question'

/** What is asked of a buffer. The rest is folded under one line that says what it is set to. */
const props = defineProps<{
  settings?: Settings
  benchCelsius?: number
  bottles: Bottle[]
  problem: (...fields: string[]) => string
}>()
const typed = defineModel<Typed>({ required: true })
const words = computed(() => props.settings?.rules.find((r) => r.id === 'B-4')?.words ?? [])
const usual = computed(() => words.value[props.settings?.thresholds['B-4'] ?? 0] ?? '')
const counts = computed((): ['' | '0' | '1' | '2', string][] => [
  ['', `${usual.value} (the lab’s rule)`],
  ...words.value.map((w, i): ['0' | '1' | '2', string] => [String(i) as '0' | '1' | '2', w]),
])
const open = ref(false)
watchEffect(() => {
  if (
    props.problem('/madeAt', '/strength', '/targets', '/strongAcid', '/strongBase', '/acidBottle', '/baseBottle') ||
    typed.value.row ||
    typed.value.mixes
  )
    open.value = true
})
const longest = Array.from({ length: 12 }, (_, i) => i)
const rowProblem = computed(() => props.problem('/targets', ...longest.map((i) => `/targets/${i}`)))
const mixesProblem = computed(() =>
  props.problem('/mixes', ...longest.flatMap((i) => ['', '/acid', '/base'].map((of) => `/mixes/${i}${of}`))),
)
const reagents = (plain: string) =>
  computed((): [string, string][] => [
    ['', plain],
    ...props.bottles
      .filter((b) => b.state === 'shelf' && b.formula.length > 0)
      .map((b): [string, string] => [b.id, `bottle ${b.number}: ${b.title}`]),
  ])
const acids = reagents('hydrochloric acid')
const bases = reagents('sodium hydroxide')
const summary = computed(() => {
  const t = typed.value
  return [
    `made at ${t.madeAt || (props.benchCelsius ?? 20)} °C`,
    t.strength ? `ionic strength brought to ${t.strength} mol/L` : 'no salt added',
    t.mixes ? 'a row by volumes' : t.row ? `a row with pH ${t.row}` : 'one buffer',
  ].join(', ')
})
</script>

<template>
  <div v-first class="fields">
    <TextField v-model="typed.target" :label="typed.mixes ? 'pH, about' : 'pH wanted'" :problem="problem('/target')" />
    <TextField v-model="typed.celsius" label="Used at, °C" :problem="problem('/celsius')" />
    <QuantityField
      v-if="!typed.mixes"
      v-model="typed.concentration"
      label="Concentration"
      unit="mol/L"
      :dimensions="['amount concentration']"
      initial="0.05 mol/L"
      :problem="problem('/concentration')"
    />
    <QuantityField
      v-if="!typed.mixes"
      v-model="typed.volume"
      label="How much"
      unit="mL"
      :dimensions="['volume']"
      initial="250 mL"
      :problem="problem('/volume')"
    />
    <SelectField
      v-model="typed.basis"
      class="wide"
      label="The concentration counts"
      :options="counts"
      :problem="problem('/basis')"
    />
  </div>
  <details class="fold" :open="open" @toggle="(e) => (open = (e.target as HTMLDetailsElement).open)">
    <summary>
      Details <span class="soft">{{ summary }}</span>
    </summary>
    <div class="fields">
      <TextField
        v-model="typed.madeAt"
        label="Made at, °C"
        :placeholder="`${benchCelsius ?? 20}`"
        :problem="problem('/madeAt')"
      />
      <TextField v-model="typed.strength" label="Ionic strength by salt, mol/L" :problem="problem('/strength')" />
      <TextField v-model="typed.row" words label="A row: further pH" placeholder="6.4 6.8 7.6" :problem="rowProblem" />
      <TextField
        v-model="typed.mixes"
        words
        label="or mL of acid + base stock"
        placeholder="5+1 4+2 3+3"
        :problem="mixesProblem"
      />
    </div>
    <div class="fields">
      <SelectField
        v-model="typed.acidBottle"
        label="Brought to its pH with acid"
        :options="acids"
        :problem="problem('/acidBottle')"
      />
      <TextField
        v-if="!typed.acidBottle"
        v-model="typed.strongAcid"
        label="Hydrochloric acid, mol/L"
        :problem="problem('/strongAcid')"
      />
      <SelectField v-model="typed.baseBottle" label="or base" :options="bases" :problem="problem('/baseBottle')" />
      <TextField
        v-if="!typed.baseBottle"
        v-model="typed.strongBase"
        label="Sodium hydroxide, mol/L"
        :problem="problem('/strongBase')"
      />
    </div>
  </details>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(9.5rem, 1fr));
  gap: 0.2rem 1.2rem;
  align-items: start;
}
@media (min-width: 700px) {
  .wide {
    grid-column: span 2;
  }
}
</style>
