<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { api, ask, type LabSubstance, type SubstanceMatch } from '@/api/client'
import { latest } from '@/api/latest'
import FormulaText from '@/design/FormulaText.vue'

/** A substance of the lab, found by whatever people call it. */
const props = defineProps<{ substances: LabSubstance[]; label: string }>()
const key = defineModel<string>({ required: true })
const emit = defineEmits<{ says: [text: string] }>()
const matches = ref<SubstanceMatch[]>()
const select = useTemplateRef<{ focus: () => void; blur: () => void }>('select')
const byKey = computed(() => new Map(props.substances.map((s) => [s.substance.key, s])))
const offered = computed(() =>
  (matches.value ?? props.substances.map((s): SubstanceMatch => ({ key: s.substance.key }))).flatMap((m) => {
    const found = byKey.value.get(m.key)
    return found ? [{ ...m, substance: found.substance, pieces: found.pieces }] : []
  }),
)

const asked = latest()
/** What is looked for and not found yet; Enter pressed meanwhile, or before the list of the lab
 * has come, takes the first match once it is there. */
const looking = ref(false)
const enter = ref(false)
let last = ''
let walked = false

const find = useDebounceFn(async (text: string, current: () => boolean) => {
  const q = text.trim().slice(0, 100)
  const found = q ? await ask(api.GET('/substances/search', { params: { query: { q } } })).catch(() => []) : undefined
  if (!current()) return
  matches.value = found
  looking.value = false
}, 40)
watch([enter, looking, () => props.substances.length], () => {
  if (!enter.value || looking.value || props.substances.length === 0) return
  enter.value = false
  takeFirst()
})

function search(text: string) {
  last = text
  walked = false
  looking.value = true
  void find(text, asked()) // from now on an answer to what was typed before is stale
}

/** Enter takes the first match, unless another was walked to with the arrows. */
function press(event: KeyboardEvent) {
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') walked = true
  const typed = (event.target as HTMLInputElement).value
  if (event.key !== 'Enter' || walked || typed === '') return
  event.stopPropagation()
  event.preventDefault()
  if (typed !== last) search(typed) // the list is told a moment later than the key
  enter.value = true
}

function takeFirst() {
  const first = offered.value[0]
  if (!first) return
  key.value = first.key
  choose(first.key)
  select.value?.blur() // closes the list, and leaves the field a moment later
  void nextTick(() => select.value?.focus())
}

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
    @keydown.capture="press"
    @visible-change="(open: boolean) => open && search('')"
  >
    <el-option v-for="s in offered" :key="s.key" :value="s.key" :label="s.substance.name">
      <span>{{ s.substance.name }}</span> <FormulaText class="soft" :pieces="s.pieces" />
      <span v-if="s.called || s.known" class="soft small"> · {{ [s.called, s.known].filter(Boolean).join(', ') }}</span>
    </el-option>
  </el-select>
</template>
