<script setup lang="ts">
import type { Figure } from '@/api/client'

defineProps<{ figure: Figure }>()
const percent = (fraction: number) => (fraction < 0.005 ? '<1 %' : `${Math.round(100 * fraction)} %`)
</script>

<template>
  <ul class="budget" :aria-label="`What adds to the uncertainty of the ${figure.label}`">
    <li v-for="share in figure.budget ?? []" :key="share.label">
      <span class="name">{{ share.label }}</span>
      <span class="track"><span class="bar" :style="{ width: `${100 * share.fraction}%` }"></span></span>
      <span class="figure percent">{{ percent(share.fraction) }}</span>
    </li>
  </ul>
</template>

<style scoped>
.budget {
  list-style: none;
  margin: 0.6rem 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 8.2rem 1fr 3.2rem;
  align-items: center;
  gap: 0.5rem;
  font-size: 0.9rem;
  line-height: 1.6;
}
.track {
  background: #e9e6dc;
  height: 9px;
}
.bar {
  display: block;
  height: 100%;
  background: var(--glass);
}
.percent {
  text-align: right;
}
</style>
