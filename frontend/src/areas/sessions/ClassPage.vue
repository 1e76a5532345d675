<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type ClassGroup, type ClassTask, type ClassView, type LabSession } from '@/api/client'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import { clock } from '@/design/time'
import ClassWord from './ClassWord.vue'
import ClassTaskFields from './ClassTaskFields.vue'

/** The class at work: groups as rows, tasks as columns; who is where, whose figure is odd, who has a hand raised. */
const props = defineProps<{ id: string }>()
const view = ref<ClassView>()
const session = ref<LabSession>()
const path = computed(() => ({ path: { id: props.id } }))
/** What a group does is seen within a third of a second, however many of them work at once. */
const often = 200
const { trouble, look } = useLook(
  async () => {
    view.value = await ask(api.GET('/lab-sessions/{id}/class', { params: path.value }))
    session.value ??= await ask(api.GET('/lab-sessions/{id}', { params: path.value }))
  },
  [`class ${props.id}`],
  undefined,
  often,
)
const { busy, says, send } = useForm()
const open = () =>
  send(async () => {
    view.value = await ask(api.POST('/lab-sessions/{id}/class/groups', { params: path.value }))
  })
const helped = (group: ClassGroup) =>
  send(async () => {
    await ask(api.DELETE('/class-groups/{id}/hand', { params: { path: { id: group.id } } }))
    await look()
  })
const remove = (task: ClassTask) =>
  send(async () => {
    await ask(api.DELETE('/class-tasks/{id}', { params: { path: { id: task.id } } }))
    await look()
  })
const cell = (group: ClassGroup, task: ClassTask) =>
  view.value?.cells.find((c) => c.group === group.id && c.task === task.id)
const raised = computed(() => view.value?.groups.filter((g) => g.hand) ?? [])
const missing = computed(() => (session.value?.session.groups ?? 0) - (view.value?.groups.length ?? 0))
const spaced = (code: string) => `${code.slice(0, 3)} ${code.slice(3)}`
</script>

<template>
  <h1>The class</h1>
  <p v-if="session">
    <RouterLink :to="`/sessions/${id}`">{{ session.session.title }}</RouterLink><template v-if="session.session.place"
      >, {{ session.session.place }}</template
    >
  </p>
  <p v-if="trouble || says" class="problem" role="alert">{{ trouble || says }}</p>
  <p v-if="!view && !trouble" class="soft">Looking up the class…</p>
  <template v-if="view">
    <p v-if="raised.length" class="raised" role="status">
      Hand raised:
      <span v-for="g in raised" :key="g.id" class="who">
        <strong>{{ g.name }}</strong> since {{ clock(g.hand!) }}
        <el-button size="small" :disabled="busy" @click="helped(g)">Helped</el-button>
      </span>
    </p>
    <p v-if="view.ended" class="soft">The session has ended: its codes open nothing any more.</p>
    <p v-if="missing > 0 && !view.ended">
      <el-button type="primary" :disabled="busy" @click="open">{{
        view.groups.length ? `Open a sheet for ${missing} more` : `Open a sheet for each of the ${missing} groups`
      }}</el-button>
      <span v-if="!view.groups.length" class="soft">
        Each gets a code for any browser on this network. Groups need no account, and see their own sheet alone.</span
      >
    </p>
    <div v-if="view.groups.length" class="scrolled">
      <table class="plain grid" aria-label="Groups and their tasks">
        <thead>
          <tr>
            <th>Group</th>
            <th>Code</th>
            <th v-for="t in view.tasks" :key="t.id">
              {{ t.title }}
              <span class="soft small"
                ><RouterLink :to="`/sessions/${id}/results/${t.id}`">Results</RouterLink> ·
                <el-button link type="primary" size="small" :disabled="busy" @click="remove(t)"
                  >Take off</el-button
                ></span
              >
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="g in view.groups" :key="g.id" :class="{ hand: g.hand }">
            <td>{{ g.name }}</td>
            <td class="figure">{{ spaced(g.code) }}</td>
            <td v-for="t in view.tasks" :key="t.id" class="text">
              <template v-for="c in [cell(g, t)]" :key="c?.state">
                <span v-if="!c || c.state === 'none'" class="soft">not begun</span>
                <template v-else>
                  <component :is="c.run ? RouterLink : 'span'" :to="`/runs/${c.run}`" class="state">
                    <strong v-if="c.state === 'handed'" class="figure">{{ c.stated }}</strong>
                    <template v-else>{{ c.state === 'finished' ? 'finished, not handed in' : c.step }}</template>
                  </component>
                  <span v-if="c.odd" class="odd">{{ c.odd }}</span>
                  <span v-if="c.changed" class="soft small">{{ clock(c.changed) }}</span>
                </template>
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="view.groups.length" class="no-print">
      <a :href="`/api/v1/lab-sessions/${id}/cards.pdf`" target="_blank" rel="noopener"
        >Print the cards with their codes</a
      >
    </p>
    <ClassWord v-if="view.groups.length && !view.ended" :session="id" :groups="view.groups" />
    <ClassTaskFields v-if="!view.ended" :session="id" :first="view.tasks.length === 0" @added="(v) => (view = v)" />
  </template>
</template>

<style scoped>
.raised {
  border-left: 5px solid var(--amber);
  background: var(--amber-tint);
  padding: 0.6rem 1rem;
}
.who {
  margin-right: 1.2rem;
}
.scrolled {
  overflow-x: auto;
}
.grid th,
.grid td {
  text-align: left;
  vertical-align: top;
}
.grid th .small {
  display: block;
  font-weight: 400;
}
.state {
  margin-right: 0.8rem;
}
.odd {
  color: var(--red);
  margin-right: 0.8rem;
}
.grid td {
  padding-block: 0.3rem;
}
tr.hand td:first-child {
  border-left: 5px solid var(--amber);
  padding-left: 0.6rem;
}
</style>
