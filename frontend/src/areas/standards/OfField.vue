<script setup lang="ts">
import { useId } from 'vue'

/** What a concentration counts: the compound, an element in it, or an ion typed. */
defineProps<{ elements: string[]; label: string; short?: string; problem?: string }>()
const of = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <div>
    <label :for="id">{{ short ?? label }}</label>
    <el-select
      :id="id"
      v-model="of"
      :aria-label="label"
      filterable
      allow-create
      default-first-option
      :empty-values="[null, undefined]"
    >
      <el-option value="" label="the compound" />
      <el-option v-for="e in elements" :key="e" :value="e" :label="`${e} in it`" />
    </el-select>
    <p class="problem small">{{ problem }}</p>
  </div>
</template>
