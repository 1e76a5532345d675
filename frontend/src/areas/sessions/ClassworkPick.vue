<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Classwork, type SessionItem } from '@/api/client'
import SelectField from '@/bench/SelectField.vue'
import { useLook } from '@/bench/useLook'

/** What each group uses, taken from a titration, a curve or a capacity test that was planned. */
const emit = defineEmits<{ take: [items: SessionItem[]] }>()
const list = ref<Classwork[]>([])
const none = ''
const chosen = ref(none)
const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/lab-sessions/classwork'))
}, [])
const choices = computed((): [string, string][] => [
  [none, 'none'],
  ...list.value.map((c): [string, string] => [c.plan, `plan ${c.number}: ${c.title}`]),
])
function take() {
  const found = list.value.find((c) => c.plan === chosen.value)
  if (found) emit('take', found.items)
  chosen.value = none
}
</script>

<template>
  <details v-if="list.length || trouble">
    <summary>Take the liquids from a plan</summary>
    <p v-if="trouble" class="problem">{{ trouble }}</p>
    <SelectField v-model="chosen" label="Each group carries out" :options="choices" />
    <p><el-button :disabled="chosen === none" @click="take">Take its liquids</el-button></p>
  </details>
</template>
