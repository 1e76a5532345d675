<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'
import LabelLink from '@/bench/LabelLink.vue'

/** What a finished standard solution asks for next. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>Finished: the bottle is on the <RouterLink :to="`/shelf/${run.bottles[0]}`">shelf</RouterLink></h2>
  <p v-if="!run.outcome.exact">Approximate until standardised: weighing alone does not make it exact.</p>
  <LabelLink :bottles="run.bottles" />
</template>
