<script setup lang="ts">
import type { Run } from '@/api/client'
import FormulaText from '@/design/FormulaText.vue'

/** What a run of a standard solution is made of, in one line. */
defineProps<{ run: Run }>()
const percent = (x: number) => Number(x.toPrecision(6))
</script>

<template>
  <template v-if="run.plan.kind === 'standard'">
    <span class="figure">{{ run.plan.design.volume.value }} {{ run.plan.design.volume.unit }}</span>
    <template v-if="run.batches?.length"
      >, batch {{ (run.summary.batch ?? 0) + 1 }} of {{ run.batches.length }}</template
    >
    · <FormulaText :pieces="run.plan.design.recipe.formula" />, {{ run.plan.design.recipe.molarMass.text }} g/mol, assay
    {{ percent(run.plan.design.assayPercent) }} % · {{ run.plan.design.recipe.with }} ·
  </template>
</template>
