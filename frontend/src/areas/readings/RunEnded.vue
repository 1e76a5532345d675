<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What stands at the end of a log. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>Read</h2>
  <p>
    The bulb goes back into storage solution (KCl).
    <RouterLink to="/readings">Begin another log</RouterLink>
  </p>
</template>
