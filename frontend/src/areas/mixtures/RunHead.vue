<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** The wavelengths, and the lines that it is read from. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'mixture'">
    {{ run.plan.design.request.wavelengths.join(' and ') }} nm, path {{ run.plan.design.request.path }} mm, by the lines
    of
    <template v-for="s in run.plan.design.request.substances" :key="s.name">
      <template v-for="l in s.lines" :key="l.run"
        ><RouterLink :to="`/runs/${l.run}`">run {{ l.number }}</RouterLink
        >{{ ' ' }}</template
      >
    </template>
    ·
  </template>
</template>
