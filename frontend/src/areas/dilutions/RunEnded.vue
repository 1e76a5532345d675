<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'
import LabelLink from '@/bench/LabelLink.vue'

/** What a finished dilution asks for next. */
defineProps<{ run: Run }>()
</script>

<template>
  <h2>Finished: the rack is on the <RouterLink to="/shelf">shelf</RouterLink></h2>
  <p v-if="!run.outcome.exact">Approximate until standardised, as its stock is.</p>
  <LabelLink :bottles="run.bottles" />
</template>
