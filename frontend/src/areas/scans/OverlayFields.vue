<script setup lang="ts">
import SelectField from '@/bench/SelectField.vue'
import type { useOverlay } from './useOverlay'

/** Which scan lies over this one, and how the two are compared. */
const props = defineProps<{ over: ReturnType<typeof useOverlay> }>()
const { scans, other, way, says } = props.over
</script>

<template>
  <div v-if="scans.length" class="over">
    <SelectField
      v-model="other"
      label="Over it, in amber"
      :options="[['', 'nothing'], ...scans.map((s) => [s.id, `run ${s.number}: ${s.title}`] as const)]"
    />
    <SelectField
      v-if="other"
      v-model="way"
      label="Show"
      :options="[
        ['beside', 'the other scan'],
        ['difference', 'this one less the other'],
        ['ratio', 'this one over the other'],
      ]"
    />
    <p v-if="says" class="problem small" role="alert">{{ says }}</p>
  </div>
</template>

<style scoped>
.over {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1.2rem;
}
</style>
