<script setup lang="ts">
import { newId } from '@/api/id'
import TextField from '@/bench/TextField.vue'
import type { Typed } from './plan'

/** Who prepares a session, in which hours, and what they do besides what follows from the liquids. */
defineProps<{ problem: (field: string) => string }>()
const people = defineModel<Typed['people']>('people', { required: true })
const own = defineModel<Typed['own']>('own', { required: true })
</script>

<template>
  <div>
    <h2>Who prepares</h2>
    <div v-for="(person, i) in people" :key="i" class="fields people">
      <TextField v-model="person.name" class="name" words label="Name" :problem="problem(`/people/${i}/name`)" />
      <TextField v-model="person.from" label="From" :problem="problem(`/people/${i}/from`)" />
      <TextField v-model="person.to" label="To" :problem="problem(`/people/${i}/to`)" />
      <el-button link type="primary" @click="people.splice(i, 1)">Take out</el-button>
    </div>
    <p><el-button @click="people.push({ name: '', from: '08:00', to: '17:00' })">Add a person</el-button></p>

    <details>
      <summary>Tasks of your own{{ own.length ? `: ${own.map((o) => o.title).join(', ')}` : '' }}</summary>
      <div v-for="(task, i) in own" :key="task.id" class="fields people">
        <TextField v-model="task.title" class="name" words label="Task" :problem="problem(`/own/${i}/title`)" />
        <TextField v-model="task.hands" label="At the bench, min" />
        <TextField v-model="task.wait" label="Waiting, min" />
        <el-button link type="primary" @click="own.splice(i, 1)">Take out</el-button>
      </div>
      <p>
        <el-button @click="own.push({ id: newId().slice(-12), title: '', hands: '15', wait: '0' })"
          >Add a task</el-button
        >
      </p>
    </details>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 0.1rem 0.8rem;
}
.people {
  grid-template-columns: minmax(0, 2fr) repeat(2, minmax(0, 1fr)) auto;
  align-items: center;
}
h2 {
  margin-top: 1.2rem;
}
</style>
