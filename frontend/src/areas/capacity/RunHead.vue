<script setup lang="ts">
import type { Run } from '@/api/client'

/** What stands in the beakers, in one line. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'capacity'">
    <span class="figure">{{ run.plan.design.volume }} mL</span> in each<template v-if="run.plan.design.covered">
      and {{ run.plan.design.covered }} mL of water to cover the probe</template
    >
    · {{ run.plan.design.portion }} at a time · calculated pH <span class="figure">{{ run.plan.design.start }}</span>,
    capacity <span class="figure">{{ run.plan.design.beta }} mmol/L</span> per pH ·
  </template>
</template>
