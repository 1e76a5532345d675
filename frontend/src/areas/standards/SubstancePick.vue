<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import { api, ask, type LabSubstance, type SubstanceMatch } from '@/api/client'
import { latest } from '@/api/latest'
import FormulaText from '@/design/FormulaText.vue'

/** A substance of the lab, found by whatever people call it. */
const props = defineProps<{ substances: LabSubstance[]; label: string }>()
const key = defineModel<string>({ required: true })
const emit = defineEmits<{ says: [text: string] }>()
const matches = ref<SubstanceMatch[]>()
const select = useTemplateRef<{ focus: () => void }>('select')
const byKey = computed(() => new Map(props.substances.map((s) => [s.substance.key, s])))
const offered = computed(() =>
  (matches.value ?? props.substances.map((s): SubstanceMatch => ({ key: s.substance.key }))).flatMap((m) => {
    const found = byKey.value.get(m.key)
    return found ? [{ ...m, substance: found.substance, pieces: found.pieces }] : []
  }),
)

const asked = latest()
const search = useDebounceFn(async (text: string) => {
  const current = asked()
  const q = text.trim().slice(0, 100)
  const found = q ? await ask(api.GET('/substances/search', { params: { query: { q } } })).catch(() => []) : undefined
  if (current()) matches.value = found
}, 60)

function choose(chosen: string) {
  emit('says', matches.value?.find((m) => m.key === chosen)?.says ?? '')
}
defineExpose({ focus: () => select.value?.focus() })
</script>

<template>
  <el-select
    ref="select"
    v-model="key"
    filterable
    default-first-option
    :filter-method="search"
    :aria-label="label"
    placeholder="Name, formula, or what you call it"
    no-match-text="Not in the lab: add it in the lab setup"
    no-data-text="Not in the lab: add it in the lab setup"
    @change="choose"
    @visible-change="search('')"
  >
    <el-option v-for="s in offered" :key="s.key" :value="s.key" :label="s.substance.name">
      <span>{{ s.substance.name }}</span> <FormulaText class="soft" :pieces="s.pieces" />
      <span v-if="s.called || s.known" class="soft small"> · {{ [s.called, s.known].filter(Boolean).join(', ') }}</span>
    </el-option>
  </el-select>
</template>
