<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import type { LabSubstance } from '@/api/client'
import FormulaText from '@/design/FormulaText.vue'

/** A substance of the lab, found by name or formula. */
const props = defineProps<{ substances: LabSubstance[]; label: string }>()
const key = defineModel<string>({ required: true })
const search = ref('')
const select = useTemplateRef<{ focus: () => void }>('select')
const offered = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  return props.substances.filter(
    (s) =>
      !wanted ||
      s.substance.name.toLowerCase().includes(wanted) ||
      s.substance.formula.toLowerCase().replace('·', '').includes(wanted.replace(/[·.*]/g, '')),
  )
})
defineExpose({ focus: () => select.value?.focus() })
</script>

<template>
  <el-select
    ref="select"
    v-model="key"
    filterable
    default-first-option
    :filter-method="(text: string) => (search = text)"
    :aria-label="label"
    placeholder="Name or formula"
    no-match-text="Not in the lab: add it in the lab setup"
    no-data-text="Not in the lab: add it in the lab setup"
    @visible-change="search = ''"
  >
    <el-option v-for="s in offered" :key="s.substance.key" :value="s.substance.key" :label="s.substance.name">
      <span>{{ s.substance.name }}</span> <FormulaText class="soft" :pieces="s.pieces" />
    </el-option>
  </el-select>
</template>
