<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type ClassResults } from '@/api/client'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { columnsOf, letters, readColumns, readResults } from './paste'

/** Results on paper or from a spreadsheet: pasted, or columns of a file; looked over line by line, and taken in all together. */
const props = defineProps<{ task: string; unit: string }>()
const emit = defineEmits<{ entered: [results: ClassResults] }>()
const text = ref('')
/** The cells of a file, and which of its columns are read; none of a text. */
const rows = ref<string[][]>([])
const chosen = ref({ group: '0', result: '1', unit: '', headed: true })
const lines = computed(() => {
  if (!rows.value.length) return readResults(text.value)
  const { group, result, unit, headed } = chosen.value
  return readColumns(rows.value, { group: Number(group), result: Number(result), unit: unit.trim(), headed })
})
const good = computed(() => lines.value.filter((l) => !l.wrong))
const columns = computed(() =>
  Array.from({ length: Math.max(0, ...rows.value.map((row) => row.length)) }, (_, i) => {
    const name = chosen.value.headed ? rows.value[0]?.[i] : ''
    return [String(i), name ? `${letters(i)}: ${name}` : letters(i)] as const
  }),
)
const { busy, says, fields, problem, send } = useForm()
const refused = (i: number) => fields.value.get(`/results/${i}/stated`) ?? fields.value.get(`/results/${i}/group`) ?? ''

async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  await send(async () => {
    const bytes = new Uint8Array(await file.arrayBuffer())
    let binary = ''
    for (let i = 0; i < bytes.length; i += 8192) binary += String.fromCharCode(...bytes.subarray(i, i + 8192))
    const table = await ask(api.POST('/compute/table', { body: { file: btoa(binary) } }))
    const guess = columnsOf(table.rows)
    chosen.value = { ...guess, group: String(guess.group), result: String(guess.result) }
    rows.value = table.rows
  })
  input.value = ''
}
async function enter() {
  await send(async () => {
    const results = good.value.map(({ group, stated }) => ({ group, stated }))
    emit(
      'entered',
      await ask(api.POST('/class-tasks/{id}/results', { params: { path: { id: props.task } }, body: { results } })),
    )
    text.value = ''
    rows.value = []
  })
}
</script>

<template>
  <details class="paste no-print">
    <summary>Results on paper or from a spreadsheet</summary>
    <form @submit.prevent="enter">
      <label v-if="!rows.length"
        >A line for each group: its number, then its result in {{ unit }} or with its unit<el-input
          v-model="text"
          type="textarea"
          :rows="5"
          class="figure"
          maxlength="20000"
      /></label>
      <div v-else class="columns">
        <SelectField v-model="chosen.group" label="Groups in column" :options="columns" />
        <SelectField v-model="chosen.result" label="Results in column" :options="columns" />
        <TextField v-model="chosen.unit" words :max="20" label="Unit of the column" :placeholder="unit" />
        <el-checkbox v-model="chosen.headed">The first row names the columns</el-checkbox>
        <el-button link type="primary" @click="rows = []">Leave the file out</el-button>
      </div>
      <label class="file"
        >Or a file, XLSX or CSV<input type="file" accept=".xlsx,.csv,.tsv,.txt" :disabled="busy" @change="take"
      /></label>
      <p class="problem small">{{ problem('/file') }}</p>
      <table v-if="lines.length" class="plain" aria-label="As they were read">
        <tbody>
          <tr v-for="(l, i) in lines.slice(0, 70)" :key="i">
            <td class="soft">{{ rows.length ? 'row' : 'line' }} {{ l.line }}</td>
            <template v-if="l.wrong">
              <td colspan="2" class="problem">{{ l.wrong }}</td>
            </template>
            <template v-else>
              <td>group {{ l.group }}</td>
              <td class="figure">
                {{ l.stated }} <span class="problem">{{ refused(good.indexOf(l)) }}</span>
              </td>
            </template>
          </tr>
        </tbody>
      </table>
      <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
      <p>
        <el-button
          type="primary"
          native-type="submit"
          :disabled="busy || good.length === 0 || good.length < lines.length"
        >
          Take in {{ good.length === 1 ? 'one result' : `${good.length} results` }}
        </el-button>
      </p>
    </form>
  </details>
</template>

<style scoped>
.paste {
  margin-top: 1.2rem;
  max-width: 44rem;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(12rem, 1fr));
  gap: 0.3rem 1.2rem;
  align-items: end;
}
.file input {
  display: block;
  margin-top: 0.2rem;
}
</style>
