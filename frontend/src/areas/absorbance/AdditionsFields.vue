<script setup lang="ts">
import type { Bottle } from '@/api/client'
import { held } from '@/bench/held'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import type { Typed } from './question'

/** Portions of one sample, each with more of a standard. */
defineProps<{ tubes: Bottle[]; problem: (...fields: string[]) => string }>()
const typed = defineModel<Typed>({ required: true })
const strength = (b: Bottle) => {
  const [f] = held(b, 'concentration')
  return f ? `${f.text} ${f.unit}` : ''
}
</script>

<template>
  <TextField v-model="typed.sample" label="Sample in each portion, mL" :problem="problem('/additions/sample')" />
  <TextField
    v-model="typed.final"
    label="Made up to, mL"
    placeholder="not made up"
    :problem="problem('/additions/final')"
  />
  <TextField
    v-model="typed.added"
    words
    label="Standard added to each, mL"
    :max="100"
    :problem="
      problem('/additions/added', ...typed.added.split(/\s+/).map((_, i) => `/additions/added/${i}`), '/additions')
    "
  />
  <SelectField
    v-model="typed.bottle"
    label="What is added"
    class="wide"
    :options="[
      ['', 'not on the shelf'],
      ...tubes.map((b) => [b.id, `${b.number}: ${b.name}, ${strength(b)}`] as const),
    ]"
    :problem="problem('/additions/bottle')"
  />
  <template v-if="!typed.bottle">
    <TextField v-model="typed.standard" label="Its concentration" :problem="problem('/additions/standard')" />
    <TextField v-model="typed.unit" words label="Unit" :problem="problem('/unit')" />
  </template>
</template>

<style scoped src="@/design/fields.css"></style>
