<script setup lang="ts" generic="T extends string">
import { useId } from 'vue'

/** A labelled choice among a few, with its problem below it. `spoken` names it where
 * the label alone does not. */
const props = defineProps<{
  label: string
  options: readonly (readonly [value: T, label: string])[]
  spoken?: string
  problem?: string
  filterable?: boolean
}>()
const chosen = defineModel<T>({ required: true })
const id = useId()

/** Delete empties it, where nothing is a choice too. */
function empty() {
  const nothing = props.options.find(([value]) => value === '')
  if (nothing && !props.filterable) chosen.value = nothing[0]
}
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <el-select
      :id="id"
      v-model="chosen"
      :aria-label="spoken ?? label"
      :filterable="filterable"
      :empty-values="[null, undefined]"
      @keydown.delete="empty"
    >
      <el-option v-for="[value, text] in options" :key="value" :value="value" :label="text" />
    </el-select>
    <p class="problem small">{{ problem }}</p>
  </div>
</template>
