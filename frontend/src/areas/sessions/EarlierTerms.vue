<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence } from '@/api/client'
import { signed } from '@/api/figures'
import type { components } from '@/api/schema'
import { when } from '@/design/time'

/** How earlier classes did in the same task, looked up when it is opened. */
const props = defineProps<{ task: string }>()
const terms = ref<components['schemas']['EarlierResults'][]>()
const trouble = ref('')

async function open(event: Event) {
  if (!(event.target as HTMLDetailsElement).open || terms.value) return
  try {
    terms.value = await ask(api.GET('/class-tasks/{id}/earlier', { params: { path: { id: props.task } } }))
    trouble.value = ''
  } catch (error) {
    trouble.value = sentence(error)
  }
}
</script>

<template>
  <details class="no-print" @toggle="open">
    <summary>Earlier classes</summary>
    <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
    <p v-else-if="!terms" class="soft">Looking them up…</p>
    <p v-else-if="terms.length === 0" class="soft">
      No earlier class handed in results of a task of this title, in this unit.
    </p>
    <table v-else class="plain" aria-label="Earlier classes">
      <thead>
        <tr>
          <th>Session</th>
          <th>Results</th>
          <th>Of them off</th>
          <th>Median error, %</th>
          <th>Robust SD, %</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in terms" :key="t.task">
          <td>
            <RouterLink :to="`/sessions/${t.session}/results/${t.task}`">{{ t.title }}</RouterLink>, {{ when(t.at) }}
          </td>
          <td class="figure">{{ t.results }}</td>
          <td class="figure">{{ t.off }}</td>
          <td class="figure">{{ signed(t.error) || '–' }}</td>
          <td class="figure">{{ t.scatter.toFixed(1) }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>
