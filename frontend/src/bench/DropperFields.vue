<script setup lang="ts">
import { computed } from 'vue'
import type { Tip } from '@/api/client'
import SelectField from './SelectField.vue'
import TextField from './TextField.vue'

/** Which dropper lets the drops fall: one whose drops were calibrated, or how large a drop is about. */
const props = defineProps<{ tips: Tip[]; problem: (...fields: string[]) => string }>()
const tip = defineModel<string>('tip', { required: true })
const drop = defineModel<string>('drop', { required: true })
const options = computed((): [string, string][] => [
  ['', 'not calibrated: about how large is a drop?'],
  ...props.tips.map((t): [string, string] => [t.run, `${t.name}: ${t.text}`]),
])
</script>

<template>
  <SelectField v-model="tip" label="Dropper" class="wide" :options="options" :problem="problem('/tip')" />
  <TextField v-if="!tip" v-model="drop" label="One drop, mL" :problem="problem('/drop')" />
</template>

<style scoped src="@/design/fields.css"></style>
