<script setup lang="ts">
/** A tube: how strong its tint is and how full it is, both 0 to 1; dashed while it is
 * only planned. */
const { tint = 0.5, level = 1, planned = false } = defineProps<{ tint?: number; level?: number; planned?: boolean }>()
</script>

<template>
  <svg viewBox="0 0 24 60" class="vial" :class="{ planned }" aria-hidden="true">
    <clipPath :id="`full${level}`"><rect x="0" :y="57 - 34 * level" width="24" :height="34 * level + 3" /></clipPath>
    <path
      v-if="!planned"
      d="M5 23h14v27a7 7 0 0 1-14 0Z"
      class="liquid"
      :style="{ opacity: tint }"
      :clip-path="`url(#full${level})`"
    />
    <path d="M2 3h20M5 3v47a7 7 0 0 0 14 0V3" class="glass" />
  </svg>
</template>

<style scoped>
.vial {
  width: 1.7rem;
  flex: none;
}
.glass {
  fill: none;
  stroke: var(--glass);
  stroke-width: 1.4;
}
.planned .glass {
  stroke-dasharray: 3 3;
}
.liquid {
  fill: #4f8f7d;
}
</style>
