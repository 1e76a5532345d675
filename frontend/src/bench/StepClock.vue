<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { now } from '@/api/clock'
import type { Step } from '@/api/client'
import { clock as timeOfDay } from '@/design/time'

/** What takes its time, and how much of it is over. */
const props = defineProps<{ clock: NonNullable<Step['clock']> }>()
const passed = () => Math.max(0, (now().getTime() - Date.parse(props.clock.since)) / 1000)
const seconds = ref(passed())
useIntervalFn(() => (seconds.value = passed()), 1000)
const done = computed(() => seconds.value >= 60 * props.clock.minutes)
const shown = computed(() => {
  const minutes = Math.floor(seconds.value / 60)
  return minutes < 100
    ? `${minutes}:${String(Math.floor(seconds.value % 60)).padStart(2, '0')} min`
    : `${Math.floor(minutes / 60)} h`
})
</script>

<template>
  <p class="clock" :class="{ done }">
    {{ props.clock.what }}, since {{ timeOfDay(props.clock.since) }}: <span class="figure">{{ shown }}</span> of
    {{ props.clock.minutes }} min
  </p>
</template>

<style scoped>
.clock {
  color: var(--amber);
  margin: 0.4rem 0;
}
.done {
  color: var(--green);
}
.clock .figure {
  font-size: 1.3rem;
  font-weight: 700;
}
</style>
