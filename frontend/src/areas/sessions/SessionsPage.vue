<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type LabSessionLine } from '@/api/client'
import { useLook } from '@/bench/useLook'
import { clock } from '@/design/time'
import CalendarFeeds from './CalendarFeeds.vue'
import { longDay, minutes, takeFile } from './plan'

/** The sessions to come, week by week, and how far each is prepared. */
const router = useRouter()
const coming = ref<LabSessionLine[]>()
const past = ref<LabSessionLine[]>()
const { trouble } = useLook(async () => {
  coming.value = await ask(api.GET('/lab-sessions'))
}, ['planned', 'shelf', 'setup'])

/** The Monday of a day. */
function weekOf(moment: string) {
  const at = new Date(moment)
  at.setHours(0, 0, 0, 0)
  at.setDate(at.getDate() - ((at.getDay() + 6) % 7))
  return at
}
const weeks = computed(() => {
  const now = weekOf(new Date().toISOString()).getTime()
  const list: { name: string; sessions: LabSessionLine[] }[] = []
  for (const session of coming.value ?? []) {
    const monday = weekOf(session.starts)
    const away = Math.round((monday.getTime() - now) / 604_800_000)
    const name =
      away <= 0
        ? 'This week'
        : away === 1
          ? 'Next week'
          : `Week of ${longDay(monday.toISOString()).replace(/^\w+ /, '')}`
    if (list.at(-1)?.name !== name) list.push({ name, sessions: [] })
    list.at(-1)!.sessions.push(session)
  }
  return list
})
/** How far a session is prepared, in a few words; what is wrong comes first. */
function standing(s: LabSessionLine): { level: 'stop' | 'look' | 'fine'; words: string } {
  if (s.short.length > 0)
    return { level: 'stop', words: s.short.length === 1 ? '1 thing short' : `${s.short.length} things short` }
  if (s.late > 0) return { level: 'stop', words: `${minutes(s.late)} too late` }
  if (s.open > 0) return { level: 'look', words: `${s.open} to do, ${s.done} done` }
  return { level: 'fine', words: 'ready' }
}
const wrongFile = ref('')
async function open(event: Event) {
  const [file] = (event.target as HTMLInputElement).files ?? []
  if (!file) return
  wrongFile.value = await takeFile(file)
  if (!wrongFile.value) await router.push('/sessions/new')
}
async function lookBack() {
  past.value = past.value ? undefined : await ask(api.GET('/lab-sessions', { params: { query: { past: true } } }))
}
</script>

<template>
  <h1>Sessions</h1>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!coming && !trouble" class="soft">Looking…</p>
  <p v-if="coming?.length === 0" class="soft">
    Nothing is planned. Say when a class comes and what each group uses: what to make, from what and by when follows
    from that.
  </p>
  <p>
    <el-button type="primary" @click="router.push('/sessions/new')">Plan a session</el-button>
    <label class="file">or from a file <input type="file" accept=".json,application/json" @change="open" /></label>
  </p>
  <p v-if="wrongFile" class="problem" role="alert">{{ wrongFile }}</p>
  <section v-for="week in weeks" :key="week.name" :aria-label="week.name">
    <h2>{{ week.name }}</h2>
    <table class="plain">
      <tbody>
        <tr v-for="s in week.sessions" :key="s.id">
          <td class="day">
            {{ longDay(s.starts) }}<br /><span class="soft">{{ clock(s.starts) }} to {{ clock(s.ends) }}</span>
          </td>
          <td>
            <RouterLink :to="`/sessions/${s.id}`"
              ><strong>{{ s.title }}</strong></RouterLink
            ><br />
            <span class="soft">{{ [s.place, `${s.groups} groups`].filter(Boolean).join(', ') }}</span>
          </td>
          <td :class="standing(s).level">{{ standing(s).words }}</td>
          <td class="soft">
            <template v-if="s.begins && s.open">begin {{ longDay(s.begins) }}, {{ clock(s.begins) }}</template>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
  <p v-if="coming?.length">
    <a href="/api/v1/lab-sessions/calendar.ics" download>Calendar file</a>
    <span class="soft"> of these sessions and their tasks</span>
  </p>
  <CalendarFeeds />
  <p>
    <el-button link type="primary" :aria-expanded="past !== undefined" @click="lookBack">{{
      past ? 'Leave out what is over' : 'Sessions that are over'
    }}</el-button>
  </p>
  <ul v-if="past" aria-label="Sessions that are over">
    <li v-for="s in past" :key="s.id">
      <RouterLink :to="`/sessions/${s.id}`">{{ s.title }}</RouterLink>, {{ longDay(s.starts) }}
    </li>
    <li v-if="past.length === 0" class="soft">None yet.</li>
  </ul>
</template>

<style scoped>
section {
  max-width: 62rem;
  margin: 1.2rem 0 1.6rem;
}
.file {
  margin-left: 1rem;
}
.day {
  white-space: nowrap;
}
td {
  overflow-wrap: anywhere;
}
.stop {
  color: var(--red);
  font-weight: 700;
}
.look {
  color: var(--amber);
}
.fine {
  color: var(--green);
}
</style>
