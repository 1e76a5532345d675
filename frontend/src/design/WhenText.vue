<script setup lang="ts">
import { clock, day, when } from './time'

/** A moment as people say it now; on paper, which is read on another day, with its date. */
defineProps<{ at: string }>()
</script>

<template>
  <span class="no-print">{{ when(at) }}</span><span class="on-paper">{{ day(at) }} {{ clock(at) }}</span>
</template>

<style scoped>
.on-paper {
  display: none;
}
@media print {
  .on-paper {
    display: inline;
  }
}
</style>
