<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api, ask, sentence, type HistoryEntry } from '@/api/client'
import { onChange } from '@/api/events'
import { when } from '@/design/time'

/** What was changed in the lab: who, when, and what it said before. */
const entries = ref<HistoryEntry[]>()
const next = ref<string>()
const trouble = ref('')

async function look(more = false) {
  try {
    const page = await ask(api.GET('/history', { params: { query: more && next.value ? { cursor: next.value } : {} } }))
    entries.value = more ? [...(entries.value ?? []), ...page.items] : page.items
    next.value = page.next
    trouble.value = ''
  } catch (error) {
    trouble.value = sentence(error)
  }
}
onMounted(look)
onChange(['setup', 'bench', 'shelf'], () => void look())
const said = (text?: string) => (text === '' ? 'nothing' : text)
</script>

<template>
  <p class="soft">
    Every change of accounts, rules, bench, balances, glass, substances and bottles, newest first. What is recorded at
    the bench stands in the logbook, and is never changed.
  </p>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!entries && !trouble" class="soft">Looking…</p>
  <p v-if="entries && entries.length === 0" class="soft">Nothing has been changed yet.</p>
  <table v-if="entries?.length" class="plain">
    <thead>
      <tr>
        <th>When</th>
        <th>By</th>
        <th>What</th>
        <th>Before, and after</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(e, i) in entries" :key="i">
        <td class="figure">{{ when(e.at) }}</td>
        <td>{{ e.by ?? 'by hand' }}</td>
        <td>{{ e.what }} {{ e.name }}<template v-if="e.gone">, removed</template></td>
        <td>
          <p v-for="v in e.before" :key="v.field">
            <span class="soft">{{ v.field }}:&nbsp;</span>
            <template v-if="v.field === 'password'">changed</template>
            <template v-else-if="v.after === undefined"> {{ said(v.before) }}</template>
            <template v-else> {{ said(v.before) }} → {{ said(v.after) }}</template>
          </p>
        </td>
      </tr>
    </tbody>
  </table>
  <el-button v-if="next" @click="look(true)">Older changes</el-button>
</template>

<style scoped>
td p {
  margin: 0;
  overflow-wrap: anywhere;
}
td {
  vertical-align: top;
}
</style>
