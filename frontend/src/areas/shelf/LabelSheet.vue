<script setup lang="ts">
import { computed, ref } from 'vue'
import { labelsOf, notePrinted, usePaper } from '@/bench/labels'
import SelectField from '@/bench/SelectField.vue'

/** The labels of the bottles that are ticked, on the paper at hand. */
const props = defineProps<{ picked: string[] }>()
const paper = usePaper()
const papers = [
  ['a4', 'A4, 10 labels'],
  ['letter', 'Letter, 10 labels'],
  ['vials', 'A4, 65 for vials'],
  ['vial', 'a roll, for vials'],
  ['label', 'single labels'],
] as const
const start = ref(1)
const copies = ref(1)
const sheet = computed(() => labelsOf(props.picked, paper.value, start.value || 1, copies.value || 1))
const labels = computed(() => props.picked.length * (copies.value || 1))
</script>

<template>
  <section class="sheet-of no-print" aria-label="Label sheet">
    <h2>Labels on a sheet</h2>
    <SelectField v-model="paper" label="Paper" :options="papers" />
    <label
      >First free place
      <el-input
        v-model.number="start"
        type="number"
        min="1"
        :max="paper === 'vials' ? 65 : 10"
        :disabled="paper === 'label' || paper === 'vial'"
    /></label>
    <label>Of each <el-input v-model.number="copies" type="number" min="1" max="65" /></label>
    <a v-if="picked.length" class="go" :href="sheet" target="_blank" @click="notePrinted(picked)">
      Print {{ labels === 1 ? '1 label' : `${labels} labels` }}
    </a>
    <span v-else class="soft">Tick the bottles above.</span>
  </section>
</template>

<style scoped>
.sheet-of .el-input {
  width: 6rem;
  display: block;
}
.sheet-of :deep(.el-select) {
  width: 11rem;
}
.sheet-of {
  display: flex;
  gap: 1rem;
  align-items: end;
  flex-wrap: wrap;
  margin: 1.5rem 0;
}
.sheet-of :deep(.problem) {
  margin: 0;
}
.sheet-of h2 {
  width: 100%;
  margin: 0;
}
.sheet-of .soft {
  padding: 0.6rem 0;
}
</style>
