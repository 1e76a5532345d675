<script setup lang="ts">
import type { Run } from '@/api/client'
import MathLine from '@/design/MathLine.vue'

/** What reacts, and what is taken, in one line. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'titration'">
    <MathLine :tex="run.plan.design.latex" /> {{ run.plan.design.sample }} · {{ run.plan.design.burette
    }}<template v-if="run.plan.design.expected">
      · about <span class="figure">{{ run.plan.design.expected }}</span> each</template
    >
    ·
  </template>
</template>
