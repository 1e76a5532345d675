<script setup lang="ts">
import type { Figure } from '@/api/client'
import { spread } from './figure'

defineProps<{ figure: Figure; large?: boolean }>()
const emit = defineEmits<{ explain: [id: string] }>()
</script>

<template>
  <button
    type="button"
    class="figure-text"
    :class="{ large }"
    :title="`How ${figure.label} came about`"
    @click="emit('explain', figure.id)"
    @keydown="$event.key === '=' && ($event.preventDefault(), emit('explain', figure.id))"
  >
    <span class="visually-hidden">{{ figure.label }}: </span>
    <span class="value">{{ figure.text }}</span><span class="spread">&nbsp;{{ spread(figure) }}</span
    >{{ large ? ' ' : '\u202f' }}<span class="unit">{{ figure.unit }}</span>
  </button>
</template>

<style scoped>
.figure-text {
  font: inherit;
  font-family: var(--mono);
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 2px dotted var(--line-strong);
  padding: 0;
  text-align: left;
  cursor: pointer;
}
.spread {
  color: var(--ink-soft);
}
.large .value {
  font-size: 2.1rem;
  font-weight: 700;
  line-height: 1.1;
}
.large .spread {
  display: inline-block; /* goes below a figure that is too long for both */
  font-size: 1.2rem;
  letter-spacing: -0.03em;
}
.large .unit {
  display: inline-block;
  font-size: 1.15rem;
  color: var(--ink-soft);
}
</style>
