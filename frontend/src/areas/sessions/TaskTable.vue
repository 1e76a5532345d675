<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { PastTask, SessionBar } from '@/api/client'
import { useTask } from '@/bench/task'
import TextField from '@/bench/TextField.vue'
import { clock, day, when } from '@/design/time'
import { longDay, minutes, spare } from './plan'

/** The tasks in the order in which they are due, and those that are begun or over. Each that has a question
 * opens it filled in; any other is ticked. */
const props = defineProps<{ bars: SessionBar[]; past: PastTask[]; kept: boolean; busy: boolean; late: boolean }>()
const emit = defineEmits<{
  open: [bar: SessionBar]
  tick: [task: string, done: boolean]
  move: [task: string, start: string | undefined]
}>()
const task = useTask()
const moving = ref('')
const start = ref('')
const wrong = ref('')

const running = (bar: SessionBar) => props.past.find((p) => p.task === bar.id && p.state === 'begun')
function begin(bar: SessionBar) {
  moving.value = moving.value === bar.id ? '' : bar.id
  start.value = `${day(bar.starts)} ${clock(bar.starts)}`
  wrong.value = ''
}
function put() {
  const at = new Date(start.value.trim().replace(' ', 'T'))
  if (!/^\d{4}-\d\d-\d\d \d\d:\d\d$/.test(start.value.trim()) || isNaN(at.getTime())) {
    wrong.value = 'a day and a time, like 2026-12-08 14:30'
    return
  }
  emit('move', moving.value, at.toISOString())
  moving.value = ''
}
</script>

<template>
  <table v-if="bars.length" class="plain tasks" aria-label="To do">
    <tbody>
      <template v-for="(bar, i) in bars" :key="bar.id">
        <tr v-if="i === 0 || day(bar.starts) !== day(bars[i - 1]!.starts)">
          <th colspan="5" scope="rowgroup">{{ longDay(bar.starts) }}</th>
        </tr>
        <tr :class="{ broken: bar.breaks.length }">
          <td class="figure">{{ clock(bar.starts) }}</td>
          <td>
            <strong>{{ bar.title }}</strong>
            <span v-if="running(bar)" class="small soft">
              in progress, <RouterLink :to="`/runs/${running(bar)!.run}`">run {{ running(bar)!.number }}</RouterLink>
            </span>
            <span v-if="bar.why" class="small soft"><br />{{ bar.why }}</span>
            <span v-for="says in bar.breaks" :key="says" class="problem small" role="alert"><br />{{ says }}</span>
          </td>
          <td>
            {{ bar.person || 'by itself' }}<br /><span class="soft small"
              >{{ bar.hands ? `${bar.hands} min` : '' }}{{ bar.hands && bar.wait ? ', then ' : ''
              }}{{ bar.wait ? `${minutes(bar.wait)} of waiting` : '' }}</span
            >
          </td>
          <td class="small" :class="{ tight: !late && bar.later < 15 && bar.earlier < 15 }">
            {{ late ? '' : spare(bar) }}
          </td>
          <td v-if="kept" class="ways no-print">
            <el-button v-if="task.asks(bar)" size="small" type="primary" plain @click="emit('open', bar)"
              >Open</el-button
            >
            <el-button size="small" :disabled="busy" @click="emit('tick', bar.id, true)">Done</el-button>
            <el-button size="small" link type="primary" :aria-expanded="moving === bar.id" @click="begin(bar)"
              >Move</el-button
            >
          </td>
        </tr>
        <tr v-if="moving === bar.id">
          <td colspan="5">
            <form class="move" @submit.prevent="put">
              <TextField v-model="start" label="Begins" words :problem="wrong" />
              <el-button native-type="submit" type="primary" :disabled="busy">Put it there</el-button>
              <el-button :disabled="busy" @click="(emit('move', bar.id, undefined), (moving = ''))"
                >Back to the schedule</el-button
              >
            </form>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <template v-if="past.length">
    <h3>Begun and done</h3>
    <ul class="past" aria-label="Begun and done">
      <li v-for="p in past" :key="`${p.task} ${p.at}`" :class="p.state">
        {{ p.title }},
        <RouterLink v-if="p.run" :to="`/runs/${p.run}`">run {{ p.number }}</RouterLink>
        {{ p.state === 'begun' ? 'in progress' : p.state === 'void' ? 'void: the task is open again' : 'done' }}
        <span class="soft small">{{ p.by }} {{ when(p.at) }}</span>
        <el-button v-if="!p.run && kept" link type="primary" :disabled="busy" @click="emit('tick', p.task, false)"
          >Not done</el-button
        >
      </li>
    </ul>
  </template>
</template>

<style scoped>
.tasks td {
  vertical-align: top;
}
th {
  text-align: left;
  padding-top: 0.8rem;
}
.ways > * {
  margin: 0 0.6rem 0.3rem 0;
}
.tight {
  color: var(--amber);
  font-weight: 700;
}
.broken td {
  background: var(--red-tint);
}
.void {
  color: var(--red);
}
.move {
  display: flex;
  flex-wrap: wrap;
  gap: 0.8rem;
  align-items: center;
}
</style>
