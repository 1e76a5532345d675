<script setup lang="ts">
import type { Run } from '@/api/client'

/** Which probe is calibrated, in one line. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'calibration'">
    <template v-if="run.plan.design.request.meter.probe">{{ run.plan.design.request.meter.probe }} · </template>
    theoretical slope <span class="figure">{{ run.plan.design.nernst }}</span> ·
  </template>
</template>
