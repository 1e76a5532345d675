<script setup lang="ts">
import type { Piece } from '@/api/client'

defineProps<{ pieces: Piece[] }>()
</script>

<template>
  <span class="formula"
    ><template v-for="(piece, i) in pieces" :key="i"
      ><component :is="piece.style || 'span'">{{ piece.text }}</component></template
    ></span
  >
</template>

<style scoped>
.formula {
  white-space: nowrap;
}
sub,
sup {
  font-size: 0.72em;
  line-height: 0;
}
</style>
