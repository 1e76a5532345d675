<script setup lang="ts">
import type { TitrationDesign } from '@/api/client'
import VerdictLine from '@/bench/VerdictLine.vue'
import CurvePlot from './CurvePlot.vue'

/** What a trial will take, and how its pH will run, as far as strengths are known. */
defineProps<{ design: TitrationDesign }>()
</script>

<template>
  <p v-if="design.expected">
    About <span class="figure">{{ design.expected }}</span> a trial, {{ design.needed }}.
  </p>
  <p v-if="design.prospect">{{ design.prospect }}</p>
  <VerdictLine v-for="v in design.verdicts" :key="v.sentence" :verdict="v" />
  <template v-if="design.curve">
    <CurvePlot :curve="design.curve" />
    <VerdictLine v-for="v in design.curve.verdicts" :key="v.sentence" :verdict="v" />
  </template>
</template>
