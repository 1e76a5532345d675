<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type ClassGroup } from '@/api/client'
import { newId } from '@/api/id'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'

/** A word to a group, or to all of them, on their sheets. */
const props = defineProps<{ session: string; groups: ClassGroup[] }>()
const to = ref('')
const said = ref('')
const told = ref('')
let id = newId()
const choices = computed((): [string, string][] => [
  ['', 'all groups'],
  ...props.groups.map((g): [string, string] => [g.id, g.name]),
])
const { busy, says, fields, problem, send } = useForm()
async function say() {
  const body = { id, said: said.value, ...(to.value ? { group: to.value } : {}) }
  told.value = ''
  if (
    !(await send(() =>
      ask(api.POST('/lab-sessions/{id}/class/words', { params: { path: { id: props.session } }, body })),
    ))
  )
    return
  told.value = `Said to ${choices.value.find(([value]) => value === to.value)?.[1]}: ${said.value}`
  id = newId()
  said.value = ''
}
</script>

<template>
  <details class="no-print">
    <summary>A word to the groups</summary>
    <form @submit.prevent="say">
      <SelectField v-model="to" label="To" :options="choices" />
      <TextField v-model="said" words :max="300" label="What you say" :problem="problem('/said')" />
      <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
      <p v-if="told" class="soft small" role="status">{{ told }}</p>
      <el-button native-type="submit" :disabled="busy || !said.trim()">Say it</el-button>
    </form>
  </details>
</template>

<style scoped>
form {
  max-width: 30rem;
}
</style>
