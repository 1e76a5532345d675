<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** The wavelength, and the line that is read from where it is an earlier one. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'absorbance'">
    <template v-if="run.plan.design.request.earlier">
      line of
      <RouterLink :to="`/runs/${run.plan.design.request.earlier.run}`"
        >run {{ run.plan.design.request.earlier.number }}</RouterLink
      >,
    </template>
    {{ run.plan.design.request.wavelength }} nm, path {{ run.plan.design.request.path }} mm ·
  </template>
</template>
