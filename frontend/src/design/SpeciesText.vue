<script setup lang="ts">
import { setSpecies } from './species'

/** A sentence with its formulas set: counts lowered, charges raised. */
defineProps<{ text: string }>()
</script>

<template>
  <span
    ><component :is="piece.style || 'span'" v-for="(piece, i) in setSpecies(text)" :key="i">{{
      piece.text
    }}</component></span
  >
</template>

<style scoped>
sub,
sup {
  font-size: 0.72em;
  line-height: 0;
}
</style>
