<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Plan, type RunSummary } from '@/api/client'
import { onChange } from '@/api/events'
import { newId } from '@/api/id'
import { when } from '@/design/time'
import { ending } from './kinds'

/** The last runs of a kind, to look at or, unless each is made once, to make again. */
const props = defineProps<{ kind: Plan['kind']; once?: boolean }>()
const emit = defineEmits<{ trouble: [error: unknown] }>()
const router = useRouter()
const runs = ref<RunSummary[]>([])

async function look() {
  try {
    runs.value = (await ask(api.GET('/runs', { params: { query: { kind: props.kind } } }))).items.slice(0, 6)
  } catch (error) {
    emit('trouble', error)
  }
}
onMounted(look)
onChange([props.kind], look)

async function again(planId: string) {
  try {
    const run = await ask(api.POST('/runs', { body: { id: newId(), planId } }))
    await router.push(`/runs/${run.summary.id}`)
  } catch (error) {
    emit('trouble', error)
  }
}
</script>

<template>
  <section v-if="runs.length" class="earlier">
    <h2>{{ once ? 'Before' : 'Made before' }}</h2>
    <table class="plain">
      <tbody>
        <tr v-for="run in runs" :key="run.id">
          <td class="figure">{{ run.number }}</td>
          <td>
            <RouterLink :to="`/runs/${run.id}`">{{ run.title }}</RouterLink>
          </td>
          <td>{{ ending(run) }}</td>
          <td class="soft">{{ when(run.changed) }}</td>
          <td v-if="!once"><el-button link type="primary" @click="again(run.planId)">Make it again</el-button></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.earlier {
  max-width: 52rem;
  margin-top: 1.4rem;
}
</style>
