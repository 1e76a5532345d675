<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Run } from '@/api/client'

/** What stands at the end of a titration. */
const props = defineProps<{ run: Run }>()
const device = computed(() => (props.run.outcome.view.kind === 'titration' ? props.run.outcome.view.device : 'burette'))
const settles = computed(() => (props.run.plan.kind === 'titration' ? props.run.plan.design.settles : 0))
</script>

<template>
  <h2>Titrated</h2>
  <p>
    <template v-if="settles"
      >Bottle {{ settles }} now has this concentration, and what was made from it has changed with it.
      <RouterLink to="/shelf">Print a new label</RouterLink>.
    </template>
    Rinse the {{ device }} with water{{ device === 'burette' ? ' and leave it open' : '' }}. Waste goes where your local
    rules say.
    <RouterLink to="/titrations">Titrate another one</RouterLink>
  </p>
</template>
