<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { NewFact, Run } from '@/api/client'
import { useOutbox } from '@/api/outbox'
import WhenText from '@/design/WhenText.vue'
import { vFirst } from './first'

/** Under the sheet: notes for the record, the results as a table, and the way to give the run up. */
const props = defineProps<{
  run: Run
  busy: boolean
  add: (text: string) => Promise<boolean>
  /** Without its report and tables, which a group of a class does not get. */
  bare?: boolean
}>()
const emit = defineEmits<{ state: [fact: Omit<NewFact, 'id'>] }>()
const outbox = useOutbox()
const id = props.run.summary.id
const note = useSessionStorage(`vialbench-note ${id}`, '') // it outlives a reload
const waitingNotes = computed(() => outbox.ofMine.filter((l) => l.runId === id && l.fact.kind === 'note'))
const notes = computed(() =>
  props.run.facts.filter(({ fact }) => fact.kind === 'note' && !waitingNotes.value.some((l) => l.fact.id === fact.id)),
)

async function addNote() {
  const text = note.value.trim()
  if (text && (await props.add(text))) note.value = ''
}

const ending = ref(false)
const endReason = ref('')
const giveUp = useTemplateRef<{ ref: HTMLElement }>('giveUp')
async function goOn() {
  ending.value = false
  await nextTick()
  giveUp.value?.ref.focus()
}
</script>

<template>
  <section class="foot">
    <ul v-if="notes.length + waitingNotes.length">
      <li v-for="line in notes" :key="line.fact.id">
        {{ line.fact.text }} <span class="soft small">{{ line.fact.by }} <WhenText :at="line.fact.at" /></span>
      </li>
      <li v-for="l in waitingNotes" :key="l.fact.id">
        {{ l.fact.text }} <span class="soft small">kept here, not on record yet</span>
      </li>
    </ul>
    <form class="no-print" @submit.prevent="addNote">
      <label>Note for the record<el-input v-model="note" maxlength="2000" /></label>
      <el-button native-type="submit" :disabled="!note.trim()">Add the note</el-button>
    </form>
    <p v-if="run.outcome.figures.length && !bare" class="small no-print">
      <a :href="`/api/v1/runs/${id}/report.pdf`" target="_blank">Report</a>,
      <a :href="`/api/v1/runs/${id}/table.csv`" download>Results as CSV</a>,
      <a :href="`/api/v1/runs/${id}/table.xlsx`" download>as XLSX</a>
    </p>
    <template v-if="run.outcome.status === 'open'">
      <el-button v-if="!ending" ref="giveUp" link type="primary" @click="ending = true">Give this run up</el-button>
      <form
        v-else
        v-first
        @submit.prevent="emit('state', { kind: 'decided', choice: 'start-again', text: endReason })"
        @keydown.esc="goOn"
      >
        <label>Why it is given up<el-input v-model="endReason" maxlength="300" /></label>
        <el-button type="danger" plain native-type="submit" :disabled="busy">Void this run</el-button>
        <el-button link @click="goOn">Go on with it</el-button>
      </form>
    </template>
  </section>
</template>

<style scoped>
.foot {
  border-top: 1px solid var(--line);
  padding-top: 1rem;
}
form {
  display: flex;
  gap: 0.7rem;
  align-items: end;
  margin-bottom: 0.6rem;
}
label {
  flex: 1;
  font-size: 0.87rem;
  color: var(--ink-soft);
}
</style>
