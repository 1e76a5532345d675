<script setup lang="ts">
import './form.css'
import { onMounted, ref } from 'vue'
import { api, ask, sentence, type LabBalance } from '@/api/client'
import { onChange } from '@/api/events'
import { useForm } from './useForm'

defineProps<{ mayChange: boolean }>()
const list = ref<LabBalance[]>()
const trouble = ref('')
const { busy, says, send } = useForm()
const empty = () => ({ name: '', capacity: '220', resolution: '0.0001', repeatability: '0.0001', linearity: '0.0002' })
const draft = ref(empty())

async function look() {
  try {
    list.value = await ask(api.GET('/balances'))
  } catch (error) {
    trouble.value = sentence(error)
  }
}
onMounted(look)
onChange(['setup', 'bench'], look)

async function add() {
  const number = (text: string) => Number(text.replace(',', '.'))
  const d = draft.value
  const body = {
    name: d.name,
    capacity: number(d.capacity),
    resolution: number(d.resolution),
    repeatability: number(d.repeatability),
    linearity: number(d.linearity),
  }
  if (await send(() => ask(api.POST('/balances', { body })))) draft.value = empty()
}
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="list?.length === 0" class="soft">No balance yet. The first one goes onto the bench.</p>
  <table v-if="list?.length" class="plain">
    <thead>
      <tr>
        <th>Balance</th>
        <th>Up to, g</th>
        <th>Last digit, g</th>
        <th>Repeatability, g</th>
        <th>Linearity ±, g</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="{ id, balance } in list" :key="id">
        <td>{{ balance.name }}</td>
        <td class="figure">{{ balance.capacity }}</td>
        <td class="figure">{{ balance.resolution }}</td>
        <td class="figure">{{ balance.repeatability }}</td>
        <td class="figure">{{ balance.linearity }}</td>
      </tr>
    </tbody>
  </table>
  <form v-if="mayChange" class="setup-form" @submit.prevent="add">
    <h2>Add a balance</h2>
    <p class="all small soft">The figures stand in its data sheet or on the sheet of its last check.</p>
    <label>Name<el-input v-model="draft.name" required maxlength="60" /></label>
    <label>Weighs up to, g<el-input v-model="draft.capacity" required inputmode="decimal" /></label>
    <label>Last digit, g<el-input v-model="draft.resolution" required inputmode="decimal" /></label>
    <label>Repeatability, g<el-input v-model="draft.repeatability" required inputmode="decimal" /></label>
    <label>Linearity ±, g<el-input v-model="draft.linearity" required inputmode="decimal" /></label>
    <p v-if="says" class="problem all" role="alert">{{ says }}</p>
    <div class="all"><el-button type="primary" native-type="submit" :disabled="busy">Add it</el-button></div>
  </form>
</template>
