<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What stands at the end of a line. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>Measured</h2>
  <p>
    Rinse the cells with water and let them drain upside down.
    <RouterLink v-if="run.plan.kind === 'absorbance' && !run.plan.design.request.earlier" to="/absorbance"
      >Read more unknowns from this line</RouterLink
    >
    <RouterLink v-else to="/absorbance">Measure something else</RouterLink>
  </p>
  <p class="small">
    What colours a solution is often a metal: collect it. Your local rules and licensed waste handling come first.
  </p>
</template>
