<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, ask, ProblemError, sentence } from '@/api/client'
import { latest } from '@/api/latest'
import TextField from '@/bench/TextField.vue'

/** One step with one unknown: whichever of the four is left empty is found. */
const typed = ref({ stock: '', taken: '', final: '', gives: '' })
const found = ref('')
const says = ref('')
const fields = [
  { key: 'stock', label: 'Stock, any unit' },
  { key: 'taken', label: 'Taken, mL' },
  { key: 'final', label: 'Final, mL' },
  { key: 'gives', label: 'Gives, the same unit' },
] as const
const empty = computed(() => fields.filter((f) => typed.value[f.key].trim() === ''))

const asked = latest()
const solve = useDebounceFn(async () => {
  const current = asked()
  found.value = says.value = ''
  const unknown = empty.value[0]
  if (empty.value.length !== 1 || !unknown) return
  const body = { ...typed.value }
  try {
    const solved = await ask(api.POST('/compute/step', { body, signal: current.signal }))
    if (!current()) return
    found.value = `${unknown.label.split(',')[0]}: ${Number(solved[unknown.key].toPrecision(6))}${unknown.label.includes('mL') ? ' mL' : ''}`
  } catch (error) {
    if (current() && error instanceof ProblemError) says.value = sentence(error)
  }
}, 60)
watch(typed, solve, { deep: true })
</script>

<template>
  <details class="one">
    <summary>One step, one unknown: leave out what is to be found</summary>
    <div class="row">
      <TextField v-for="f in fields" :key="f.key" v-model="typed[f.key]" :label="f.label" />
    </div>
    <p v-if="found" role="status">
      <strong class="figure">{{ found }}</strong>
    </p>
    <p v-else-if="says" class="problem" role="alert">{{ says }}</p>
    <p v-else class="small soft">
      Fill in three of the four. By mass it is the same, with g for mL and concentrations by mass, as mg/kg.
    </p>
  </details>
</template>

<style scoped>
.one {
  margin-top: 1.2rem;
  border-top: 1px solid var(--line);
  padding-top: 0.6rem;
}
summary {
  cursor: pointer;
  color: var(--ink-soft);
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0 1.1rem;
  max-width: 52rem;
  margin-top: 0.5rem;
}
</style>
