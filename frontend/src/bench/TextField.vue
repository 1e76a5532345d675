<script setup lang="ts">
import { useId } from 'vue'

/** A labelled field for a plain figure or words, with its problem below it. */
defineProps<{ label: string; problem?: string; words?: boolean; placeholder?: string; max?: number }>()
const text = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <el-input
      :id="id"
      v-model="text"
      :class="{ figure: !words }"
      :inputmode="words ? 'text' : 'decimal'"
      :maxlength="max ?? (words ? 80 : 20)"
      :placeholder="placeholder"
    />
    <p class="problem small">{{ problem }}</p>
  </div>
</template>
