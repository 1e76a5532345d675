<script setup lang="ts">
import { computed } from 'vue'

/** The drops that fell, ten in a row, and those that are still expected to the end point. */
const props = defineProps<{ count: number; expected: number; dark: boolean }>()
const all = computed(() => Math.min(400, Math.max(props.count, props.expected, 10)))
const rows = computed(() => Math.ceil(all.value / 10))
const drops = computed(() => Array.from({ length: all.value }, (_, i) => i))
const name = computed(
  () => `${props.count} drops` + (props.expected > props.count ? `, about ${props.expected} expected` : ''),
)
</script>

<template>
  <svg :viewBox="`0 0 250 ${20 + 20 * rows}`" role="img" :aria-label="name" :class="{ dark }">
    <g v-for="i in drops" :key="i" :transform="`translate(${16 + (i % 10) * 20} ${8 + Math.floor(i / 10) * 20})`">
      <path d="M0-5Q5 2 5 5a5 5 0 0 1-10 0Q-5 2 0-5Z" :class="i < count ? 'fell' : 'coming'" />
    </g>
    <text v-for="r in rows" :key="r" x="216" :y="14 + 20 * (r - 1)">{{ Math.min(10 * r, all) }}</text>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 20rem;
  font: 10px var(--mono);
  fill: var(--ink-soft);
}
.fell {
  fill: var(--liquid);
  stroke: var(--green);
}
.dark .fell {
  fill: #8a5a94;
}
.coming {
  fill: none;
  stroke: var(--line-strong);
  stroke-dasharray: 2 2;
}
</style>
