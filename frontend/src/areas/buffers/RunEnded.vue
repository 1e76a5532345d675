<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'
import LabelLink from '@/bench/LabelLink.vue'

/** What a finished buffer asks for next. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>
    Finished: {{ run.bottles.length > 1 ? 'the buffers are' : 'the bottle is' }} on the
    <RouterLink :to="run.bottles.length > 1 ? '/shelf' : `/shelf/${run.bottles[0]}`">shelf</RouterLink>
  </h2>
  <p>It is named by the pH that was read. Measure it again before it is diluted, and once more afterwards.</p>
  <LabelLink :bottles="run.bottles" />
</template>
