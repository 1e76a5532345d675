<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useCorrecting } from './correcting'

// What is planned has the same panels as a run, and corrects nothing.
const FactCorrection = defineAsyncComponent(() => import('./FactCorrection.vue'))

/** The form that corrects one of some facts, under the figure that was pressed: a row of a table of so
 * many columns, or a part of a list. */
const props = defineProps<{ facts: string[]; columns?: number }>()
const correcting = useCorrecting()
const line = computed(() => {
  const at = correcting?.at.value
  return at && props.facts.includes(at) ? correcting.run.value?.facts.find((l) => l.fact.id === at) : undefined
})
function leave() {
  if (correcting) correcting.at.value = ''
}
</script>

<template>
  <component :is="columns ? 'tr' : 'div'" v-if="line" class="no-print">
    <component :is="columns ? 'td' : 'div'" :colspan="columns" class="form">
      <p class="small soft">{{ line.sentence }}</p>
      <FactCorrection :key="line.fact.id" :fact="line.fact" @leave="leave" />
    </component>
  </component>
</template>

<style scoped>
.form {
  font-family: var(--text);
  text-align: left;
  white-space: normal;
}
</style>
