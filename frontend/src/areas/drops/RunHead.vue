<script setup lang="ts">
import type { Run } from '@/api/client'

/** How often, and how the drops are caught. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'droptip'">
    <span class="figure">{{ run.plan.design.counts }}</span> counts of
    <span class="figure">{{ run.plan.design.drops }}</span> drops or more, {{ run.plan.design.way }} ·
  </template>
</template>
