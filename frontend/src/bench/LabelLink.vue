<script setup lang="ts">
import { computed } from 'vue'
import { labelsOf, notePrinted, usePaper } from './labels'

/** The labels of what a run made, to the printer at once. */
const props = defineProps<{ bottles: string[] }>()
const paper = usePaper()
const words = computed(() => (props.bottles.length === 1 ? 'Print its label' : `Print ${props.bottles.length} labels`))
</script>

<template>
  <a class="label-link no-print" :href="labelsOf(bottles, paper)" target="_blank" @click="notePrinted(bottles)">{{
    words
  }}</a>
</template>

<style scoped>
.label-link {
  font-weight: 700;
}
</style>
