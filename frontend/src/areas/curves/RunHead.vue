<script setup lang="ts">
import type { Run } from '@/api/client'

/** What is titrated with what, and where end points are expected. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'curve'">
    {{ run.plan.design.flask }} · {{ run.plan.design.burette }} ·
    <template v-if="run.plan.design.expected">
      expected at <span class="figure">{{ run.plan.design.expected }}</span> ·
    </template>
  </template>
</template>
