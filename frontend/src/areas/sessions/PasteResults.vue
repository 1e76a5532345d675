<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type ClassResults } from '@/api/client'
import { useForm } from '@/bench/useForm'
import { readResults } from './paste'

/** Results on paper or from a spreadsheet: pasted, looked over line by line, and taken in all together. */
const props = defineProps<{ task: string; unit: string }>()
const emit = defineEmits<{ entered: [results: ClassResults] }>()
const text = ref('')
const lines = computed(() => readResults(text.value))
const good = computed(() => lines.value.filter((l) => !l.wrong))
const { busy, says, fields, send } = useForm()
const refused = (i: number) => fields.value.get(`/results/${i}/stated`) ?? fields.value.get(`/results/${i}/group`) ?? ''
async function enter() {
  await send(async () => {
    const results = good.value.map(({ group, stated }) => ({ group, stated }))
    emit(
      'entered',
      await ask(api.POST('/class-tasks/{id}/results', { params: { path: { id: props.task } }, body: { results } })),
    )
    text.value = ''
  })
}
</script>

<template>
  <details class="paste no-print">
    <summary>Results on paper or from a spreadsheet</summary>
    <form @submit.prevent="enter">
      <label
        >A line for each group: its number, then its result in {{ unit }} or with its unit<el-input
          v-model="text"
          type="textarea"
          :rows="5"
          class="figure"
          maxlength="20000"
      /></label>
      <table v-if="lines.length" class="plain" aria-label="As they were read">
        <tbody>
          <tr v-for="(l, i) in lines.slice(0, 70)" :key="i">
            <td class="soft">line {{ l.line }}</td>
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
</style>
