<script setup lang="ts">
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type LabSession, type SessionBar } from '@/api/client'
import { newId } from '@/api/id'
import { useSession } from '@/api/session'
import { useAnswer } from '@/bench/useAnswer'
import { useForm } from '@/bench/useForm'
import { useKeys } from '@/bench/keys'
import { useLook } from '@/bench/useLook'
import { useTask } from '@/bench/task'
import TextField from '@/bench/TextField.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import { clock } from '@/design/time'
import ClassworkPick from './ClassworkPick.vue'
import ItemFields from './ItemFields.vue'
import { beginning, draftOf, fieldsFor, itemOf, longDay, minutes, newItem, planOf, typedOf, type Typed } from './plan'
import PreparesFields from './PreparesFields.vue'
import ScheduleBars from './ScheduleBars.vue'
import SessionFiles from './SessionFiles.vue'
import SupplyList from './SupplyList.vue'
import TaskTable from './TaskTable.vue'
import UnknownsPanel from './UnknownsPanel.vue'

/** A session in the order of the work: when and for whom, what each group uses, who prepares; beside it what that
 * asks for, where it comes from, and who does what when. */
const props = defineProps<{ id: string }>()
const router = useRouter()
const session = useSession()
const task = useTask()
const id = ref(props.id === 'new' ? newId() : props.id)
const kept = ref<LabSession>()
const typed = ref<Typed>(beginning(session.account?.name ?? ''))
const liquids = ref<string[]>([])
const first = useTemplateRef<HTMLElement>('first')
/** What was kept last, as it is typed: whatever differs from it is not kept yet. */
const asKept = ref('')
const changed = computed(() => JSON.stringify(typed.value) !== asKept.value)

const local = computed(() => planOf(typed.value))
const { answer, problems, trouble, compute, computeSoon } = useAnswer<object, LabSession>(
  () => local.value.plan && { id: id.value, session: draftOf(local.value.plan), version: kept.value?.version ?? 0 },
  (body, signal) => ask(api.POST('/lab-sessions/preview', { body: body as never, signal })),
)
watch(typed, computeSoon, { deep: true })
const problem = (field: string) =>
  local.value.wrong.get(field) ?? problems.value.get(`/session${field}`) ?? problems.value.get(field) ?? ''
/** What is wrong with the session as a whole, which no field shows. */
const atLarge = computed(() => problem('/items') || problem('/people') || problem('/zone'))

function show(got: LabSession) {
  const untouched = !changed.value || asKept.value === ''
  kept.value = got
  if (untouched) {
    typed.value = typedOf(got.session)
    asKept.value = JSON.stringify(typed.value)
  }
  answer.value = got
}
let leaving = false // what is taken off the plan is not looked up again
const { look } = useLook(
  async () => {
    if (leaving) return
    const [substances, bottles] = await Promise.all([
      liquids.value.length ? [] : ask(api.GET('/substances')),
      ask(api.GET('/bottles')).then((page) => page.items),
    ])
    liquids.value = [
      ...new Set([...liquids.value, ...bottles.map((b) => b.name), ...substances.map((s) => s.substance.name)]),
    ]
    if (props.id !== 'new' || kept.value)
      show(await ask(api.GET('/lab-sessions/{id}', { params: { path: { id: id.value } } })))
    else await compute()
    if (changed.value && kept.value) await compute()
  },
  ['planned', 'shelf', 'setup'],
  trouble,
)
onMounted(() => props.id === 'new' && first.value?.querySelector('input')?.focus())

const { busy, says, fields, send } = useForm()
/** What is wrong with a liquid: in the answer only those count that have a name. */
function ofItem(i: number, field: string) {
  const place = typed.value.items.slice(0, i).filter((item) => item.name.trim() !== '').length
  const named = typed.value.items[i]?.name.trim() !== ''
  return fields.value.get(`/session/items/${i}/${field}`) ?? (named ? problem(`/items/${place}/${field}`) : '')
}
/** What was refused as it stands, until something is changed. */
const refused = (field: string) => fields.value.get(`/session${field}`) ?? problem(field)
watch(
  typed,
  () => {
    fields.value = new Map()
    says.value = ''
  },
  { deep: true },
)
/** What no field shows. */
const besides = computed(() => (fields.value.size === 0 && says.value) || atLarge.value)
async function keep() {
  const plan = local.value.plan
  if (!plan || busy.value) return
  await send(async () => {
    const got = await ask(
      api.POST('/lab-sessions', { body: { id: id.value, session: plan, version: kept.value?.version ?? 0 } }),
    )
    asKept.value = ''
    show(got)
    if (props.id === 'new') await router.replace(`/sessions/${got.id}`)
  })
}
const act = (what: () => Promise<LabSession>) => send(async () => show(await what()))
const path = computed(() => ({ path: { id: id.value } }))
const tick = (which: string, done: boolean) =>
  act(() => ask(api.POST('/lab-sessions/{id}/ticks', { params: path.value, body: { id: newId(), task: which, done } })))
const move = (which: string, start: string | undefined) =>
  act(() =>
    ask(
      api.POST('/lab-sessions/{id}/moves', {
        params: path.value,
        body: { task: which, version: kept.value!.version, ...(start ? { start } : {}) },
      }),
    ),
  )
async function open(bar: SessionBar) {
  if (!kept.value) return
  await task.open({ id: id.value, title: kept.value.session.title }, bar, fieldsFor(bar, kept.value.session))
}
/** The same again in another week: a new session with all but the day. */
async function copy() {
  const next = new Date(`${typed.value.day}T12:00`)
  next.setDate(next.getDate() + 7)
  id.value = newId()
  kept.value = undefined
  asKept.value = ''
  typed.value.day = next.toLocaleDateString('sv-SE')
  await router.replace('/sessions/new')
}
/** The session as a file, for another term or another lab. */
const removing = ref(false)
const remove = () =>
  send(async () => {
    leaving = true
    await ask(
      api.DELETE('/lab-sessions/{id}', {
        params: { path: { id: id.value }, query: { version: kept.value!.version } },
      }),
    )
    await router.push('/sessions')
  }).then((gone) => (leaving = gone))
function choose(item: string, from: string) {
  const of = typed.value.items.find((i) => i.id === item)
  if (of) of.from = from
}
const design = computed(() => answer.value?.design)
useKeys([{ key: 'ctrl enter', does: 'keep the session', act: () => void keep() }])
</script>

<template>
  <div class="sheet-and-side measured session">
    <section>
      <h1>{{ typed.title || 'A new session' }}</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <div ref="first" class="fields">
        <TextField
          v-model="typed.title"
          class="wide"
          words
          label="Title"
          :max="120"
          placeholder="Titration of vinegar"
          :problem="refused('/title')"
        />
        <TextField v-model="typed.day" label="Day" :problem="problem('/day')" />
        <TextField v-model="typed.from" label="From" :problem="refused('/starts')" />
        <TextField v-model="typed.to" label="To" :problem="problem('/ends')" />
        <TextField v-model="typed.place" words label="Place" :problem="problem('/place')" />
        <TextField v-model="typed.groups" label="Groups" :problem="problem('/groups')" />
        <TextField v-model="typed.meters" label="pH meters" :problem="problem('/meters')" />
      </div>

      <h2>What each group uses</h2>
      <ItemFields
        v-for="(item, i) in typed.items"
        :key="item.id"
        v-model="typed.items[i]!"
        :need="design?.needs.find((n) => n.item === item.id)"
        :names="liquids"
        :problem="(field) => ofItem(i, field)"
        @leave="typed.items.splice(i, 1)"
      />
      <p><el-button @click="typed.items.push(newItem())">Add a liquid</el-button></p>
      <ClassworkPick @take="(items) => typed.items.push(...items.map(itemOf))" />

      <PreparesFields v-model:people="typed.people" v-model:own="typed.own" :problem="problem" />

      <p v-if="besides" class="problem" role="alert">{{ besides }}</p>
      <p class="keep no-print">
        <el-button type="primary" :disabled="busy || !changed" @click="keep"
          >{{ kept ? (changed ? 'Keep the changes' : 'Kept') : 'Keep the session' }} <kbd>Ctrl Enter</kbd></el-button
        >
        <template v-if="kept">
          <el-button :disabled="busy" @click="copy">Copy to the next week</el-button>
          <el-button v-if="!removing" link type="danger" @click="removing = true">Take it off the plan…</el-button>
          <el-button v-else type="danger" plain :disabled="busy" @click="remove">Take it off; its runs stay</el-button>
        </template>
      </p>
      <UnknownsPanel v-if="kept" :session="id" :groups="kept.session.groups" />
    </section>

    <aside aria-label="What it asks for" aria-live="polite">
      <p v-if="!design" class="soft">What is to be made, and by when, appears here once the session is clear.</p>
      <template v-else>
        <VerdictLine v-for="v in design.verdicts" :key="v.sentence" :verdict="v" />
        <h2>What it takes</h2>
        <p v-if="design.needs.length === 0" class="soft">Say what each group uses.</p>
        <SupplyList :needs="design.needs" :supplies="design.supplies" @choose="choose" />
        <h2>What is left to do</h2>
        <p v-if="design.unplanned" class="problem" role="alert">{{ design.unplanned }}</p>
        <div v-else-if="design.late > 0" class="late" role="alert">
          <p>
            <strong>{{ minutes(design.late) }} too late</strong>: all should be ready at {{ clock(design.ready) }}.
            {{ design.proven ? 'No other order would be quicker.' : 'A better order may be found.' }}
          </p>
          <ul v-if="design.mends.length">
            <li v-for="m in design.mends" :key="m.what">
              {{ m.what }}: {{ m.late <= 0 ? 'in time' : `still ${minutes(m.late)} late` }}.
            </li>
          </ul>
        </div>
        <p v-else-if="design.begins">
          Begin on {{ longDay(design.begins) }} at {{ clock(design.begins) }}, and all is ready at
          {{ clock(design.ready) }}.<template v-if="design.proven"> Five minutes later it would not be.</template>
        </p>
        <p v-else class="soft">Nothing.</p>
        <ScheduleBars
          v-if="design.bars.length"
          :bars="design.bars"
          :ready="design.ready"
          :starts="answer!.session.starts"
        />
        <TaskTable
          :bars="design.bars"
          :past="answer!.past"
          :kept="kept !== undefined && !changed"
          :late="design.late > 0"
          :busy="busy"
          @open="open"
          @tick="tick"
          @move="move"
        />
        <SessionFiles v-if="kept && !changed" :id="id" :plan="kept.session" />
        <p v-if="changed && kept" class="soft small">Keep the changes, then tasks can be begun and ticked.</p>
      </template>
    </aside>
  </div>
</template>

<style scoped>
@media screen and (min-width: 1101px) {
  .session.sheet-and-side {
    grid-template-columns: minmax(20rem, 27rem) minmax(0, 1fr);
  }
}
@media screen and (min-width: 761px) and (max-width: 1100px) {
  .session.sheet-and-side {
    grid-template-columns: minmax(17rem, 21rem) minmax(0, 1fr);
  }
}
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.1rem 0.8rem;
}
.wide {
  grid-column: 1 / -1;
}
h2 {
  margin-top: 1.2rem;
}
.late {
  border-left: 5px solid var(--red);
  background: var(--red-tint);
  padding: 0.6rem 1rem;
  margin-bottom: 0.8rem;
}
.late ul {
  margin: 0;
}
.keep {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.8rem;
  margin-top: 1rem;
}
.keep .el-button {
  margin: 0;
}
</style>
