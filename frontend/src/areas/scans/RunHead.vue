<script setup lang="ts">
import type { Run } from '@/api/client'

/** Where a spectrum came from that nobody read by hand. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'scan' && run.plan.design.request.from"
    >{{ run.plan.design.request.from }} ·
  </template>
</template>
