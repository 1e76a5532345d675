<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'
import WhenText from '@/design/WhenText.vue'

/** Which calibration the readings depend on. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'readings' && run.outcome.view.kind === 'readings'">
    calibration:
    <RouterLink v-if="run.plan.design.request.run" :to="`/runs/${run.plan.design.request.run}`">{{
      run.outcome.view.calibration
    }}</RouterLink>
    <template v-else>{{ run.outcome.view.calibration }}</template> of <WhenText :at="run.outcome.view.calibratedAt" /> ·
  </template>
</template>
