<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What a finished calibration asks for next. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>Taken into use</h2>
  <p>
    Check one buffer in the middle and at the end of the session. Between readings and afterwards the bulb stands in
    storage solution (KCl): never dry, never in deionised water. Used buffer is not poured back.
  </p>
  <p><RouterLink to="/readings">Read samples with it</RouterLink></p>
</template>
