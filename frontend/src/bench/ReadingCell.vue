<script setup lang="ts">
import { computed } from 'vue'
import { useCorrecting } from './correcting'

/** A figure of a table that was read: pressed, it is corrected where it stands. */
const props = defineProps<{ fact: string; text: string; what: string }>()
const correcting = useCorrecting()
const known = computed(() => props.fact && correcting?.run.value?.facts.some((line) => line.fact.id === props.fact))
const open = computed(() => correcting?.at.value === props.fact)
function press() {
  if (correcting) correcting.at.value = open.value ? '' : props.fact
}
</script>

<template>
  <button
    v-if="known"
    type="button"
    class="cell"
    :aria-label="`Correct ${what}, ${text}`"
    :aria-expanded="open"
    title="Correct it"
    @click="press"
  >
    {{ text }}
  </button>
  <template v-else>{{ text }}</template>
</template>

<style scoped>
.cell {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  padding: 0;
  cursor: pointer;
  border-bottom: 1px dashed transparent;
}
.cell:hover,
.cell:focus-visible,
.cell[aria-expanded='true'] {
  border-color: var(--line-strong);
}
</style>
