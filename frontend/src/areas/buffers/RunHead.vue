<script setup lang="ts">
import type { Run } from '@/api/client'

/** What a buffer is made of, in one line. */
defineProps<{ run: Run }>()
</script>

<template>
  <template v-if="run.plan.kind === 'buffer'">
    <template v-if="run.plan.design.byVolume">mixed by volume</template>
    <span v-else class="figure">{{ run.plan.design.flask.volume }} mL</span> · {{ run.plan.design.acid }} with
    {{ run.plan.design.base }} · for {{ run.plan.design.celsius }} °C ·
  </template>
</template>
