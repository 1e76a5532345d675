<script setup lang="ts">
/** Whether an instrument stands, as a mark and a word. */
defineProps<{ still?: boolean; word: string }>()
</script>

<template>
  <span class="state" :class="still ? 'still' : 'moving'">
    <svg viewBox="0 0 12 12" aria-hidden="true">
      <circle v-if="still" cx="6" cy="6" r="4.5" />
      <path v-else d="M1 8 Q3.5 2 6 6 T11 4" />
    </svg>
    {{ word }}
  </span>
</template>

<style scoped>
.state {
  display: inline-flex;
  align-items: center;
  gap: 0.35rem;
  min-width: 7rem;
}
svg {
  width: 0.9rem;
  fill: none;
  stroke-width: 2;
}
.still svg {
  fill: var(--green);
}
.moving {
  color: var(--amber);
}
.moving svg {
  stroke: var(--amber);
}
</style>
