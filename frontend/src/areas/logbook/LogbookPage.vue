<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type LogEntry } from '@/api/client'
import { latest } from '@/api/latest'
import { onChange } from '@/api/events'
import SelectField from '@/bench/SelectField.vue'
import { clock, day, when } from '@/design/time'

const entries = ref<LogEntry[]>()
const next = ref<string>()
const filter = ref({ q: '', person: '', from: '', to: '' })
const people = ref<string[]>([])
const trouble = ref('')

/** A day as it is asked for; nothing of what is none, like the 31st of February. */
function whole(text: string): string {
  const time = /^\d{4}-\d{2}-\d{2}$/.test(text) ? Date.parse(`${text}T00:00Z`) : Number.NaN
  return !Number.isNaN(time) && new Date(time).toISOString().startsWith(text) ? text : ''
}
/** A day that is typed in another way; one that is still in the making is none. */
const unread = computed(() =>
  [filter.value.from, filter.value.to].find(
    (date) => !whole(date) && (date.length === 10 || !/^\d{0,4}(-\d{0,2}){0,2}$/.test(date)),
  ),
)
const query = computed(() => {
  const { q, person } = filter.value
  const [from, to] = [whole(filter.value.from), whole(filter.value.to)]
  return {
    ...(q ? { q: q.slice(0, 200) } : {}),
    ...(person ? { person } : {}),
    ...(from ? { from } : {}),
    ...(to ? { to } : {}),
  }
})

const asked = latest()
async function look(more = false) {
  const current = asked()
  try {
    const page = await ask(
      api.GET('/logbook', {
        params: { query: { ...query.value, ...(more && next.value ? { cursor: next.value } : {}) } },
      }),
    )
    if (!current()) return
    entries.value = more ? [...(entries.value ?? []), ...page.items] : page.items
    next.value = page.next
    trouble.value = ''
  } catch (error) {
    if (current()) trouble.value = sentence(error)
  }
}
onMounted(async () => {
  await look()
  people.value = (await ask(api.GET('/people')).catch(() => [])).map((p) => p.initials)
})
onChange(['run'], () => void look())
watch(
  filter,
  useDebounceFn(() => look(), 120),
  { deep: true },
)
const csv = computed(() => `/api/v1/logbook.csv?${new URLSearchParams(query.value).toString()}`)
/** Whether an entry begins another day than the one above it. */
const newDay = (i: number) => i === 0 || day(entries.value![i]!.fact.at) !== day(entries.value![i - 1]!.fact.at)
</script>

<template>
  <header class="head">
    <h1>Logbook</h1>
    <p class="out no-print">
      <a :href="csv" download>Table as CSV</a>
      <a href="/api/v1/export" download>All records as JSON</a>
    </p>
  </header>
  <form class="filter no-print" role="search" @submit.prevent>
    <label class="text"
      >Search <kbd>/</kbd><el-input v-model="filter.q" data-search type="search" maxlength="200"
    /></label>
    <SelectField
      v-model="filter.person"
      label="Person"
      :options="[['', 'everyone'], ...people.map((p) => [p, p] as const)]"
    />
    <label>From<el-input v-model="filter.from" class="date" maxlength="10" placeholder="2026-11-23" /></label>
    <label>To<el-input v-model="filter.to" class="date" maxlength="10" placeholder="2026-11-27" /></label>
  </form>
  <p v-if="unread" class="problem no-print" role="alert">
    “{{ unread }}” is no day as it is read here: type the year, the month and the day, like 2026-11-23.
  </p>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!entries && !trouble" class="soft">Looking…</p>
  <p v-if="entries && entries.length === 0" class="soft">
    {{
      Object.keys(query).length
        ? 'Nothing on record fits this search.'
        : 'Everything that is recorded at the bench stands here, newest first.'
    }}
  </p>
  <table v-if="entries?.length" class="plain log">
    <thead>
      <tr>
        <th>Time</th>
        <th>By</th>
        <th>Fact</th>
        <th>Run</th>
      </tr>
    </thead>
    <tbody>
      <template v-for="(e, i) in entries" :key="e.fact.id">
        <tr v-if="newDay(i)" class="day">
          <th colspan="4" scope="rowgroup">{{ day(e.fact.at) }}</th>
        </tr>
        <tr>
          <td class="figure">{{ clock(e.fact.at) }}</td>
          <td>{{ e.fact.by }}</td>
          <td class="text">
            <s v-if="e.corrected">{{ e.sentence }}</s>
            <span v-else>{{ e.sentence }}</span>
            <span v-if="e.corrected" class="reason"> corrected by {{ e.correctedBy }}: {{ e.correctedReason }}</span>
            <span v-else-if="e.fact.reason" class="reason"> correction: {{ e.fact.reason }}</span>
            <span v-if="e.recorded" class="small late"> recorded {{ when(e.recorded) }}</span>
          </td>
          <td>
            <RouterLink :to="`/runs/${e.runId}`">{{ e.runNumber }} · {{ e.title }}</RouterLink>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <el-button v-if="next" @click="look(true)">Older entries</el-button>
</template>

<style scoped>
.late {
  color: var(--amber);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
.out {
  display: flex;
  gap: 1.4rem;
}
.filter {
  display: flex;
  gap: 1rem;
  flex-wrap: wrap;
  align-items: end;
  margin: 0.6rem 0 1rem;
}
.filter :deep(.problem) {
  margin: 0;
}
.filter :deep(.el-select) {
  width: 9rem;
}
.date {
  max-width: 9rem;
}
.text {
  flex: 1;
  max-width: 24rem;
}
.log {
  max-width: 68rem;
}
.log td:first-child {
  width: 4.5rem;
}
.log td:nth-child(2) {
  width: 4rem;
}
.log td:last-child {
  width: 22rem;
}
.day th {
  color: var(--ink);
  font-weight: 700;
  padding-top: 1rem;
}
s {
  color: var(--ink-soft);
}
.reason {
  color: var(--amber);
  font-size: 0.9rem;
}
</style>
