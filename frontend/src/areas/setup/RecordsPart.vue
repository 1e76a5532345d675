<script setup lang="ts">
import './form.css'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useForm } from './useForm'

defineProps<{ mayChange: boolean }>()
const file = ref<{ name: string; records: { format: string } }>()
const unreadable = ref('')
const found = ref('')
const taken = ref(false)
const { busy, says, fields, send } = useForm()

async function choose(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  found.value = unreadable.value = says.value = ''
  taken.value = false
  file.value = undefined
  if (!chosen) return
  try {
    file.value = { name: chosen.name, records: JSON.parse(await chosen.text()) as { format: string } }
  } catch {
    unreadable.value = `${chosen.name} is not a JSON file.`
    return
  }
  await take(true)
}

async function take(dryRun: boolean) {
  const records = file.value?.records
  if (!records) return
  await send(async () => {
    const r = await ask(api.POST('/import', { params: { query: { dryRun } }, body: records }))
    found.value = `${r.runs} runs with ${r.facts} facts, ${r.balances} balances and ${r.substances} substances ${dryRun ? 'are new and would be taken in' : 'were taken in'}; ${r.known} entries were here already.`
    taken.value = !dryRun
  })
}
</script>

<template>
  <div class="setup-form">
    <h2>Out</h2>
    <p class="all">
      <a href="/api/v1/export" download>All records as JSON</a>, in the format that can be taken in again;
      <a href="/api/v1/logbook.csv" download>the logbook as CSV</a> for a spreadsheet.
    </p>
  </div>
  <div v-if="mayChange" class="setup-form">
    <h2>In</h2>
    <p class="all small soft">
      A file of records from another Vial Bench. First it is only looked at; all of it is taken in, or nothing.
    </p>
    <label class="all">File of records<input type="file" accept="application/json,.json" @change="choose" /></label>
    <p v-if="unreadable" class="problem all" role="alert">{{ unreadable }}</p>
    <div v-if="says" class="all" role="alert">
      <p class="problem">Nothing was taken in. {{ fields.size ? '' : says }}</p>
      <ul>
        <li v-for="[pointer, detail] in fields" :key="pointer">
          <span class="figure">{{ pointer }}</span> {{ detail }}
        </li>
      </ul>
    </div>
    <p v-if="found" class="all" role="status">{{ found }}</p>
    <div class="all">
      <el-button v-if="found && !taken" type="primary" :disabled="busy" @click="take(false)">Take it in</el-button>
    </div>
  </div>
</template>
