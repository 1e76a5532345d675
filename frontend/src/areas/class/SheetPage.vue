<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type SheetTask } from '@/api/client'
import { newId } from '@/api/id'
import { useForm } from '@/bench/useForm'
import GroupBench from './GroupBench.vue'
import HandIn from './HandIn.vue'
import { useSheet } from './sheet'

/** The tasks of a group: to be begun, gone on with, and handed in. */
const own = useSheet()
const router = useRouter()
const { busy, says, send } = useForm()
const begun = ref(newId())
async function begin(task: SheetTask) {
  await send(async () => {
    const run = await ask(
      api.POST('/class/tasks/{id}/run', { params: { path: { id: task.id } }, body: { id: begun.value } }),
    )
    begun.value = newId()
    await router.push(`/class/${task.id}/${run.summary.id}`)
  })
}
</script>

<template>
  <h1>{{ own.sheet?.name ?? 'Opening your sheet…' }}</h1>
  <GroupBench />
  <p v-if="own.sheet && own.sheet.tasks.length === 0" class="soft">
    Your tasks appear here as soon as your instructor gives them out.
  </p>
  <p v-if="says" class="problem" role="alert">{{ says }}</p>
  <section v-for="task in own.sheet?.tasks" :key="task.id" class="task" :aria-label="task.title">
    <h2>{{ task.title }}</h2>
    <p v-if="task.run && task.step">
      <RouterLink :to="`/class/${task.id}/${task.run}`"><strong>Go on</strong></RouterLink
      ><span class="soft">: {{ task.step }}</span>
    </p>
    <p v-else-if="task.run">
      <RouterLink :to="`/class/${task.id}/${task.run}`">Look at what you wrote down</RouterLink>
    </p>
    <p v-if="!task.step">
      <el-button :type="task.run ? 'default' : 'primary'" :disabled="busy" @click="begin(task)">{{
        task.run ? 'Begin it again' : 'Begin'
      }}</el-button>
    </p>
    <HandIn :task="task" />
  </section>
</template>

<style scoped>
.task {
  border-top: 1px solid var(--line);
  padding: 0.4rem 0 1rem;
}
</style>
