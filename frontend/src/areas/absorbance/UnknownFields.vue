<script setup lang="ts">
import { computed } from 'vue'
import type { Bottle } from '@/api/client'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { typedUnknown, type TypedUnknown } from './question'

/** The unknowns: each with its owner, from a bottle or by name, and how often it was diluted before. */
const props = defineProps<{ bottles: Bottle[]; problem: (...fields: string[]) => string }>()
const unknowns = defineModel<TypedUnknown[]>({ required: true })
const choices = computed((): [string, string][] => [
  ['', 'not on the shelf'],
  ...props.bottles.map((b): [string, string] => [b.id, `bottle ${b.number}: ${b.title}`]),
])
const add = () => unknowns.value.push(typedUnknown())
const drop = (i: number) => unknowns.value.splice(i, 1)
</script>

<template>
  <fieldset v-for="(u, i) in unknowns" :key="i">
    <legend>
      Unknown {{ i + 1 }}
      <el-button link type="primary" size="small" :aria-label="`Leave unknown ${i + 1} out`" @click="drop(i)"
        >Leave it out</el-button
      >
    </legend>
    <TextField
      v-model="u.name"
      words
      label="Name"
      :max="60"
      placeholder="Pond, at the inlet"
      :problem="problem(`/unknowns/${i}/name`)"
    />
    <TextField
      v-model="u.owner"
      words
      label="Whose it is"
      :max="60"
      placeholder="nobody’s"
      :problem="problem(`/unknowns/${i}/owner`)"
    />
    <SelectField v-model="u.bottle" label="Bottle" :options="choices" :problem="problem(`/unknowns/${i}/bottle`)" />
    <TextField
      v-model="u.diluted"
      label="Diluted before, times"
      placeholder="1"
      :problem="problem(`/unknowns/${i}/diluted`)"
    />
  </fieldset>
  <p>
    <el-button @click="add">{{ unknowns.length ? 'Another unknown' : 'Add an unknown' }}</el-button>
  </p>
</template>

<style scoped src="@/design/fields.css"></style>
