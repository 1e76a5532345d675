<script setup lang="ts">
import { computed } from 'vue'
import type { BufferAnswer } from '@/api/client'
import FormulaText from '@/design/FormulaText.vue'

/** The balance of charge as bars: what is positive on one side, negative on the other; at
 * the pH of the buffer both add up to the same. */
const props = defineProps<{ balance: NonNullable<BufferAnswer['design']['balance']> }>()
const most = computed(() => Math.max(...props.balance.map((c) => Math.abs(c.value))))
const digits = (v: number) => (Math.abs(v) * 1000).toPrecision(3)
</script>

<template>
  <ul aria-label="Balance of charge">
    <li v-for="(c, i) in balance" :key="i">
      <FormulaText :pieces="c.formula" class="name" />
      <span class="bar" :class="{ minus: c.value < 0 }"
        ><span :style="{ width: `${(50 * Math.abs(c.value)) / most}%` }"
      /></span>
      <span class="figure small">{{ c.value < 0 ? '−' : '+' }}{{ digits(c.value) }}</span>
    </li>
  </ul>
  <p class="small soft">Charges in mmol/L: left below zero, right above. At this pH they cancel.</p>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 0.2rem 0 0.3rem;
}
li {
  display: grid;
  grid-template-columns: 5.5rem 1fr 4.5rem;
  align-items: center;
  gap: 0.5rem;
}
.bar {
  position: relative;
  height: 0.8rem;
  background: linear-gradient(var(--line), var(--line)) center / 1px 100% no-repeat;
}
.bar span {
  position: absolute;
  left: 50%;
  height: 100%;
  background: var(--green);
}
.bar.minus span {
  left: auto;
  right: 50%;
  background: var(--amber);
}
.figure {
  text-align: right;
}
</style>
