<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Dependent } from '@/api/client'
import { useLook } from '@/bench/useLook'
import { when } from '@/design/time'
import { ending } from './kinds'

/** The runs that depend on a balance or a pH meter, and what they put on the shelf. */
const props = defineProps<{ instrument: string }>()
const list = ref<Dependent[]>()
const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/instruments/dependents', { params: { query: { name: props.instrument } } }))
}, ['setup', 'shelf'])
</script>

<template>
  <section :aria-label="`What depends on ${instrument}`">
    <h3>What depends on {{ instrument }}</h3>
    <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
    <p v-if="list?.length === 0" class="soft">Nothing was measured with it yet.</p>
    <table v-if="list?.length" class="plain">
      <tbody>
        <tr v-for="d in list" :key="d.run.id">
          <td class="figure">{{ d.run.number }}</td>
          <td>
            <RouterLink :to="`/runs/${d.run.id}`">{{ d.run.title }}</RouterLink>
          </td>
          <td class="small soft">{{ ending(d.run) }}, {{ when(d.run.begun) }}</td>
          <td>
            <span v-for="b in d.bottles" :key="b.id" class="bottle">
              <RouterLink :to="`/shelf/${b.id}`">bottle {{ b.number }}</RouterLink>
              <strong v-if="b.doubt" class="doubt"> in doubt</strong>
              <span v-if="b.state !== 'shelf'" class="small soft"> no longer on the shelf</span>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.bottle {
  margin-right: 0.8rem;
  white-space: nowrap;
}
.doubt {
  color: var(--amber);
}
</style>
