<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What stands at the end. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>Measured</h2>
  <p>
    Rinse the cells with water and let them drain upside down.
    <RouterLink to="/mixtures">Read more samples</RouterLink>
  </p>
  <p class="small">
    What colours a solution is often a metal: collect it. Your local rules and licensed waste handling come first.
  </p>
</template>
