<script setup lang="ts">
import { computed } from 'vue'
import type { Bottle } from '@/api/client'

const props = defineProps<{ bottle: Bottle }>()
/** The level falls with what is taken out. */
const level = computed(() => 86 - 40 * (props.bottle.volume > 0 ? props.bottle.left / props.bottle.volume : 1))
</script>

<template>
  <svg viewBox="0 0 60 92" class="bottle" :class="bottle.state" aria-hidden="true">
    <path d="M22 4h16v12c0 6 14 8 14 20v46a6 6 0 0 1-6 6H14a6 6 0 0 1-6-6V36c0-12 14-14 14-20Z" class="glass" />
    <path :d="`M9 ${level}h42V82a5 5 0 0 1-5 5H14a5 5 0 0 1-5-5Z`" class="liquid" />
    <rect x="12" y="52" width="36" height="24" class="label" />
    <text x="30" y="69" text-anchor="middle">{{ bottle.number }}</text>
  </svg>
</template>

<style scoped>
.bottle {
  width: 3.4rem;
}
.glass {
  fill: none;
  stroke: var(--glass);
  stroke-width: 1.8;
}
.liquid {
  fill: var(--liquid);
}
.label {
  fill: var(--sheet);
  stroke: var(--line-strong);
  stroke-width: 0.7;
}
text {
  font: 700 15px var(--mono);
  fill: var(--ink);
}
.discarded .liquid,
.poured .liquid,
.void .liquid {
  fill: none;
}
.discarded .glass,
.poured .glass,
.void .glass {
  stroke-dasharray: 4 3;
}
</style>
