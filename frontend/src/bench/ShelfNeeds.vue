<script setup lang="ts">
import type { Run } from '@/api/client'

/** What a run will take from the shelf, and what is left there. */
defineProps<{ needs: NonNullable<Run['needs']> }>()
const mL = (v: number) => `${v.toFixed(v < 10 ? 1 : 0)}\u202fmL`
</script>

<template>
  <section aria-label="From the shelf">
    <h3>From the shelf</h3>
    <ul>
      <li v-for="n in needs" :key="n.number" :class="{ short: n.needs > n.left }">
        <strong v-if="n.needs > n.left">Not enough: about </strong><template v-else>About </template
        >{{ mL(n.needs) }} of bottle {{ n.number }}, {{ n.title }}; {{ mL(n.left) }} left
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 0.2rem 0;
  padding: 0;
  list-style: none;
}
.short {
  color: var(--amber);
}
</style>
