<script setup lang="ts">
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import MathLine from '@/design/MathLine.vue'
import type { Typed } from './question'
import { useBalanced } from './useBalanced'

/** What is added in excess before a back titration, and what it does to the sample. */
defineProps<{ reagents: [string, string][]; problem: (...fields: string[]) => string }>()
const typed = defineModel<Typed>({ required: true })
const { balanced, wrong, species } = useBalanced(() => typed.value.backEquation)
</script>

<template>
  <fieldset>
    <legend>Added in excess before</legend>
    <SelectField
      v-model="typed.reagentBottle"
      label="Reagent"
      class="wide"
      :options="reagents"
      :problem="problem('/reagentBottle')"
    />
    <TextField v-model="typed.reagent" label="Excess, mL each" :problem="problem('/reagent')" />
    <TextField
      v-model="typed.backEquation"
      words
      :max="500"
      class="wide"
      label="Equation with the sample, balanced or not"
      placeholder="CaCO3 + HCl -> CaCl2 + CO2 + H2O"
      :problem="wrong || problem('/backEquation')"
    />
    <SelectField v-model="typed.backAnalyte" label="Sought" :options="species" :problem="problem('/backAnalyte')" />
  </fieldset>
  <MathLine v-if="balanced" :tex="balanced.latex" class="equation" />
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.equation {
  display: block;
  margin-bottom: 0.6rem;
}
</style>
