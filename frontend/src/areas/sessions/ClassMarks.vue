<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, sentence, type ClassResults } from '@/api/client'
import { newId } from '@/api/id'
import type { components } from '@/api/schema'
import { useForm } from '@/bench/useForm'

/** How the results of a task are marked: by the usual scheme, by the file of a course, or not at all. */
type Scheme = components['schemas']['MarkScheme']
const props = defineProps<{ task: string; scheme?: Scheme }>()
const emit = defineEmits<{ marked: [results: ClassResults] }>()
const { busy, says, fields, send } = useForm()
const unread = ref('')

const mark = (scheme?: Scheme) => {
  unread.value = ''
  return send(async () => {
    const body = { id: newId(), ...(scheme ? { scheme } : {}) }
    emit('marked', await ask(api.PUT('/class-tasks/{id}/marks', { params: { path: { id: props.task } }, body })))
  })
}
const usual = () =>
  ask(api.GET('/marks/usual'))
    .then(mark)
    .catch((error: unknown) => (unread.value = sentence(error)))

async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const text = await input.files?.[0]?.text()
  input.value = ''
  if (text === undefined) return
  try {
    await mark(JSON.parse(text) as Scheme)
  } catch {
    unread.value = 'This file is no JSON: download the scheme that is in use, change its numbers, and choose it again.'
  }
}
const asFile = (scheme: Scheme) =>
  `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(scheme, null, 2) + '\n')}`
</script>

<template>
  <details class="no-print">
    <summary>Marks</summary>
    <p v-if="scheme">
      Marked by “{{ scheme.title }}”: {{ scheme.parts.map((p) => `${p.of} ${p.points}`).join(', ') }}.
      <a :href="asFile(scheme)" download="vialbench-marks.json">The scheme as a file</a>
    </p>
    <p v-else class="soft">
      Not marked. A scheme gives points for accuracy, precision, arithmetic, digits and notes; what cannot be judged
      counts on neither side.
    </p>
    <p class="does">
      <el-button v-if="!scheme" :disabled="busy" @click="usual">Mark by the usual scheme</el-button>
      <label
        >A scheme of your own<input type="file" accept=".json,application/json" :disabled="busy" @change="take"
      /></label>
      <el-button v-if="scheme" :disabled="busy" @click="mark()">No marks</el-button>
    </p>
    <p v-if="unread || says" class="problem" role="alert">{{ unread || [...fields.values()].join('; ') || says }}</p>
  </details>
</template>

<style scoped>
.does {
  display: flex;
  flex-wrap: wrap;
  gap: 1rem;
  align-items: end;
}
label input {
  display: block;
}
</style>
