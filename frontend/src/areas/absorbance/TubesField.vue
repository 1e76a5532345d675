<script setup lang="ts">
import { computed } from 'vue'
import type { Bottle } from '@/api/client'

/** The tubes that are read as standards: whole racks with one press, or one by one. */
const props = defineProps<{ bottles: Bottle[]; problem?: string }>()
const chosen = defineModel<string[]>({ required: true })

interface Rack {
  run: string
  title: string
  tubes: Bottle[]
}
/** Tubes of one run stand together, from dilute to strong. */
const racks = computed((): Rack[] => {
  const list = new Map<string, Rack>()
  for (const b of props.bottles) {
    const key = (b.tube && b.runId) || ''
    const rack = list.get(key) ?? {
      run: key,
      title: b.tube ? `Rack of run ${b.runNumber}: ${b.name}` : 'Bottles',
      tubes: [],
    }
    rack.tubes.push(b)
    list.set(key, rack)
  }
  for (const rack of list.values()) rack.tubes.sort((a, b) => a.concentration.value - b.concentration.value)
  return [...list.values()].sort((a, b) => Number(b.run !== '') - Number(a.run !== ''))
})
const is = (b: Bottle) => chosen.value.includes(b.id)
function press(b: Bottle, on: boolean) {
  chosen.value = on ? [...chosen.value, b.id] : chosen.value.filter((id) => id !== b.id)
}
function whole(rack: Rack) {
  chosen.value = rack.tubes.map((b) => b.id)
}
</script>

<template>
  <div>
    <div v-for="rack in racks" :key="rack.run" class="rack" role="group" :aria-label="rack.title">
      <p>
        {{ rack.title }}
        <el-button v-if="rack.run" link type="primary" size="small" @click="whole(rack)">Take the whole rack</el-button>
      </p>
      <el-checkbox
        v-for="b in rack.tubes"
        :key="b.id"
        :model-value="is(b)"
        @update:model-value="(on) => press(b, Boolean(on))"
        >{{ b.number }}: {{ rack.run ? `${b.concentration.text} ${b.concentration.unit}` : b.title }}</el-checkbox
      >
    </div>
    <p class="problem small">{{ problem }}</p>
  </div>
</template>

<style scoped>
.rack {
  margin-bottom: 0.3rem;
}
.rack p {
  margin: 0.2rem 0 0;
  color: var(--ink-soft);
  font-size: 0.87rem;
}
</style>
