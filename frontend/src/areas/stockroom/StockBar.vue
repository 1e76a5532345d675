<script setup lang="ts">
import { computed, useId } from 'vue'
import type { Article } from '@/api/client'
import { levelOf } from './article'

/** How much of an article is there, what of it sessions will take (hatched), what they lack (open), and its minimum. */
const props = defineProps<{ article: Article }>()
const id = useId()
const width = 240
const level = computed(() => levelOf(props.article))
const says = computed(() => {
  const { usable, minimum, standing, article } = props.article
  const planned = standing.planned > 0 ? `, of which sessions take ${Number(standing.planned.toPrecision(3))}` : ''
  return `${usable}${planned}${article.minimum > 0 ? `; the minimum is ${minimum}` : ''}`
})
</script>

<template>
  <svg :viewBox="`0 0 ${width} 26`" role="img" :aria-label="says">
    <defs>
      <pattern :id="id" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="6" height="6" class="ground" />
        <path d="M0 0V6" class="hatch" />
      </pattern>
    </defs>
    <rect class="free" x="0" y="6" :width="Math.max(0, level.usable - level.planned) * (width - 2)" height="12" />
    <rect
      class="planned"
      :x="(level.usable - level.planned) * (width - 2)"
      y="6"
      :width="level.planned * (width - 2)"
      height="12"
      :fill="`url(#${id})`"
    />
    <rect
      v-if="level.short > 0"
      class="short"
      :x="level.usable * (width - 2)"
      y="6.750"
      :width="level.short * (width - 2)"
      height="10.500"
    />
    <path v-if="level.minimum > 0" class="minimum" :d="`M${level.minimum * (width - 2)} 1V23`" />
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 15rem;
  display: block;
}
.free {
  fill: var(--glass);
}
.planned {
  stroke: var(--glass);
}
.ground {
  fill: var(--sheet);
}
.hatch {
  stroke: var(--glass);
  stroke-width: 3;
}
.short {
  fill: none;
  stroke: var(--red);
  stroke-width: 1.5;
  stroke-dasharray: 4 3;
}
.minimum {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
