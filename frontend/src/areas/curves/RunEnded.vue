<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What stands at the end of a curve. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>The curve is complete</h2>
  <p>
    The bulb goes back into storage solution (KCl), the burette is rinsed with water. Waste goes where your local rules
    say. <RouterLink to="/curves">Take another one</RouterLink>
  </p>
</template>
