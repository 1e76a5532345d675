<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What stands at the end of a calibration of a tip. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>The tip is calibrated</h2>
  <p>
    Write the volume of a drop on the dropper. It holds for this liquid, held upright, one drop a second.
    <RouterLink to="/titrations">Titrate with it</RouterLink>, or
    <RouterLink to="/drops">calibrate another one</RouterLink>.
  </p>
</template>
