<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What stands at the end of a test. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>Tested</h2>
  <p>
    The bulb goes back into storage solution (KCl). What is in the beakers: ask what your local rules allow.
    <RouterLink to="/capacity">Test another one</RouterLink>
  </p>
</template>
