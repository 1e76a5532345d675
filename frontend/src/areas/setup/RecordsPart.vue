<script setup lang="ts">
import './form.css'
import { ref } from 'vue'
import { api, ask, type ImportReport } from '@/api/client'
import { onTopic } from '@/api/events'
import { useSession } from '@/api/session'
import SelectField from '@/bench/SelectField.vue'
import { useForm } from '@/bench/useForm'

defineProps<{ mayChange: boolean }>()
type Table = 'substances' | 'equipment' | 'plans'
const tables: [Table, string][] = [
  ['substances', 'our own substances'],
  ['equipment', 'glass and balances'],
  ['plans', 'plans'],
]
const table = ref<Table>('substances')
/** A file of records goes to the server as it is: it may be large. */
const file = ref<{ records?: File; table?: string }>()
const report = ref<ImportReport>()
const taken = ref(false)
const percent = ref(0)
const session = useSession()
const { busy, says, fields, send } = useForm()
onTopic(`import ${session.account?.id} `, (n) => (percent.value = Number(n)))
/** How many problems are spelled out. */
const shown = 50

async function choose(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  says.value = ''
  fields.value = new Map()
  report.value = file.value = undefined
  taken.value = false
  if (!chosen) return
  file.value = /\.json$/i.test(chosen.name) ? { records: chosen } : { table: await chosen.text() }
  await take(true)
}

async function take(dryRun: boolean) {
  const from = file.value
  if (!from) return
  percent.value = 0
  await send(async () => {
    report.value = from.records
      ? await ask(
          api.POST('/import', {
            params: { query: { dryRun } },
            body: { format: '' },
            bodySerializer: () => from.records,
            headers: { 'Content-Type': 'application/json' },
          }),
        )
      : await ask(
          api.POST('/tables/{table}', {
            params: { path: { table: table.value }, query: { dryRun } },
            body: from.table ?? '',
            bodySerializer: (text: string) => text,
            headers: { 'Content-Type': 'text/plain' },
          }),
        )
    taken.value = !dryRun
  })
}

/** "/17/formula" of a table is line 17, formula; of records it stays as it is. */
function place(pointer: string) {
  if (file.value?.records) return pointer
  const [, line, ...column] = pointer.split('/')
  return `Line ${line}${column.length ? `, ${column.join('/')}` : ''}`
}
const counted = (r: ImportReport) =>
  (
    [
      [r.runs, 'runs'],
      [r.facts, 'facts'],
      [r.plans, 'plans'],
      [r.balances, 'balances'],
      [r.glass, 'entries of glass'],
      [r.substances, 'substances'],
      [r.systems, 'acid–base systems'],
    ] as const
  )
    .filter(([n]) => n > 0)
    .map(([n, what]) => `${n} ${what}`)
    .join(', ') || 'Nothing'
</script>

<template>
  <div class="setup-form">
    <h2>Out</h2>
    <p class="all">
      <a href="/api/v1/export" download>All records as JSON</a>, in the format that can be taken in again;
      <a href="/api/v1/logbook.csv" download>the logbook as CSV</a> for a spreadsheet.
    </p>
    <p class="all">
      As tables that can be taken in again:
      <template v-for="([name, label], i) in tables" :key="name"
        ><a :href="`/api/v1/tables/${name}`" download>{{ label }}</a
        >{{ i < tables.length - 1 ? ', ' : '.' }}
      </template>
    </p>
  </div>
  <div v-if="mayChange" class="setup-form">
    <h2>In</h2>
    <p class="all small soft">
      A JSON file of records from another Vial Bench, or a CSV table with a line of column names, as one of the tables
      above has. First it is only looked at; all of it is taken in, or nothing.
    </p>
    <SelectField v-model="table" label="A CSV file is a table of" :options="tables" />
    <label class="all"
      >File of records or table<input
        type="file"
        accept="application/json,.json,text/csv,.csv,.tsv,.txt"
        @change="choose"
    /></label>
    <p v-if="busy" class="all soft" role="status">
      {{ report ? 'Taking it in…' : 'Looking at it…' }} <template v-if="percent">{{ percent }} %</template>
    </p>
    <div v-if="says" class="all" role="alert">
      <p class="problem">
        Nothing was taken in.
        {{ fields.size ? `${fields.size} ${fields.size === 1 ? 'place is' : 'places are'} wrong:` : says }}
      </p>
      <ul>
        <li v-for="[pointer, detail] in [...fields].slice(0, shown)" :key="pointer">
          <strong class="figure">{{ place(pointer) }}</strong> {{ detail }}
        </li>
      </ul>
      <p v-if="fields.size > shown">and {{ fields.size - shown }} more.</p>
    </div>
    <div v-if="report && !says" class="all" role="status">
      <p>
        {{ counted(report) }} {{ taken ? 'taken in' : 'new, would be taken in' }}; {{ report.changed }} changed;
        {{ report.known }} here already.
      </p>
      <ul v-if="report.changes.length" class="changes">
        <li v-for="change in report.changes" :key="change">{{ change }}</li>
      </ul>
    </div>
    <div class="all">
      <el-button v-if="report && !taken && !says" type="primary" :disabled="busy" @click="take(false)"
        >Take it in</el-button
      >
    </div>
  </div>
</template>

<style scoped>
input[type='file'] {
  display: block;
  margin-top: 0.3rem;
}
.changes {
  max-height: 16rem;
  overflow: auto;
}
</style>
