<script setup lang="ts">
import type { Run } from '@/api/client'

/** What a dilution starts from, in one line. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'dilution'">
    from <span class="figure">{{ Number(run.plan.design.request.stock.concentration.value.toPrecision(5)) }}</span>
    {{ run.plan.design.request.stock.unit }} ·
  </template>
</template>
