<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Bottle, type NextTask, type Today } from '@/api/client'
import { fieldsFor, minutes, shortly, spare } from '@/areas/sessions/plan'
import { useSession } from '@/api/session'
import { useBench } from '@/bench/bench'
import { ending, kinds } from '@/bench/kinds'
import { useForm } from '@/bench/useForm'
import { vFirst } from '@/bench/first'
import { useTask } from '@/bench/task'
import { useLook } from '@/bench/useLook'
import { when } from '@/design/time'

const today = shallowRef<Today>()
const router = useRouter()
const bench = useBench()
const session = useSession()

const { trouble, look } = useLook(async () => {
  today.value = await ask(api.GET('/today'))
}, ['run', 'shelf', 'setup', 'planned', 'store'])
/** What the shelf asks for today. */
const dues = computed(() =>
  [
    {
      title: 'Standardise again',
      bottles: today.value?.standardise ?? [],
      day: (b: Bottle) => b.standardiseBy,
      says: (b: Bottle) => (b.standardiseNow ? 'overdue' : 'due within two days'),
    },
    {
      title: 'Expires within two weeks',
      bottles: today.value?.expiring ?? [],
      day: (b: Bottle) => b.expires,
      says: (b: Bottle) =>
        b.exact
          ? b.expired
            ? 'expired: make a fresh one'
            : 'make a fresh one in time'
          : b.expired
            ? 'expired: standardise again or discard'
            : 'standardise again or make a fresh one',
    },
  ].filter((due) => due.bottles.length > 0),
)

/** What is due first, and what comes after it. */
const task = useTask()
const now = computed(() => today.value?.next[0])
const then = computed(() => today.value?.next.slice(1) ?? [])
const lasts = ({ bar }: NextTask) =>
  bar.hands ? `about ${bar.hands} min at the bench` : `${minutes(bar.wait)} of waiting`
async function openTask(next: NextTask) {
  if (!task.asks(next.bar)) return router.push(`/sessions/${next.session}`)
  const { session } = await ask(api.GET('/lab-sessions/{id}', { params: { path: { id: next.session } } }))
  await task.open({ id: next.session, title: next.title }, next.bar, fieldsFor(next.bar, session))
}
/** What of the sessions to come needs somebody to decide. */
const warned = computed(() => (today.value?.sessions ?? []).filter((s) => s.short.length > 0 || s.late > 0))

/** What a new lab sets up first, and where. */
const firsts = {
  balance: { what: 'Enter a balance', where: '/setup/balances', why: 'recipes then go by what it weighs to' },
  glass: { what: 'List the glass', where: '/setup/glass', why: 'recipes then take only what is in the cupboard' },
  people: { what: 'Make accounts for the others', where: '/setup/people', why: 'every record names who made it' },
  bottle: { what: 'Make a first bottle', where: '/standards', why: 'from the recipe to its label' },
}
const { busy, says, send } = useForm()
const usual = () =>
  send(async () => {
    await ask(api.POST('/setup/usual'))
    await Promise.all([look(), bench.look()])
  })
</script>

<template>
  <h1>Today</h1>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!today && !trouble" class="soft">Looking…</p>
  <template v-if="today">
    <section v-if="today.lacks.length" aria-labelledby="first" class="first">
      <h2 id="first">To set up</h2>
      <ol>
        <li v-for="(first, what) in firsts" :key="what" :class="{ there: !today.lacks.includes(what) }">
          <template v-if="today.lacks.includes(what)">
            <RouterLink :to="first.where">{{ first.what }}</RouterLink> <span class="soft">{{ first.why }}</span>
          </template>
          <template v-else>{{ first.what }}, done</template>
        </li>
      </ol>
      <p
        v-if="
          today.lacks.includes('balance') && today.lacks.includes('glass') && session.account?.role === 'instructor'
        "
      >
        <el-button :disabled="busy" @click="usual">Begin with a usual teaching laboratory</el-button>
        <span class="soft small"> two balances and the usual glass, to be changed as you like</span>
      </p>
      <p v-if="says" class="problem" role="alert">{{ says }}</p>
    </section>
    <section v-if="now" aria-labelledby="next">
      <div v-first class="now">
        <p class="soft">
          {{ now.late ? 'Overdue' : 'Next' }} · {{ now.bar.person || 'by itself' }} · {{ lasts(now) }} ·
          {{ shortly(now.bar.starts) }}
        </p>
        <h2 id="next">{{ now.bar.title }}</h2>
        <p>
          for <RouterLink :to="`/sessions/${now.session}`">{{ now.title }}</RouterLink>, {{ shortly(now.starts) }}
        </p>
        <el-button type="primary" @click="openTask(now)">{{
          task.asks(now.bar) ? 'Open its question' : 'Open the session'
        }}</el-button>
      </div>
      <table v-if="then.length" class="plain" aria-label="Then">
        <tbody>
          <tr v-for="next in then" :key="next.session + next.bar.id">
            <td>{{ shortly(next.bar.starts) }}</td>
            <td>
              <el-button link type="primary" @click="openTask(next)">{{ next.bar.title }}</el-button><br /><span
                class="soft small"
                >{{ next.title }}</span
              >
            </td>
            <td>{{ next.bar.person }}</td>
            <td>{{ next.bar.hands ? minutes(next.bar.hands) : minutes(next.bar.wait) }}</td>
            <td class="small">{{ spare(next.bar) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section v-for="s in warned" :key="s.id" class="warned" role="status">
      <h2>
        <RouterLink :to="`/sessions/${s.id}`">{{ s.title }}</RouterLink>, {{ shortly(s.starts) }}
      </h2>
      <p v-for="what in s.short" :key="what">{{ what }}</p>
      <p v-if="s.late > 0">{{ minutes(s.late) }} too late: the session says what would help.</p>
    </section>
    <section aria-labelledby="doing">
      <h2 id="doing">In progress</h2>
      <ul v-if="today.open.length" class="open">
        <li v-for="run in today.open" :key="run.id">
          <RouterLink :to="`/runs/${run.id}`">
            <strong>{{ run.title }}</strong>
            <span class="next"><span class="soft">Next:</span> {{ run.step }}</span>
            <span class="soft small"
              >run {{ run.number }}, begun by {{ run.by }}, last touched {{ when(run.changed) }}</span
            >
          </RouterLink>
        </li>
      </ul>
      <p v-else class="empty">
        Nothing is in progress. A run that is left half done waits here, also for another person on another machine.
      </p>
      <p class="begin">
        <RouterLink to="/sessions/new">Plan a session</RouterLink>
        <template v-for="kind in kinds" :key="kind.name">
          · <RouterLink :to="kind.path">{{ kind.begin }}</RouterLink> <kbd>{{ kind.key }}</kbd></template
        >
      </p>
    </section>

    <section v-for="due in dues" :key="due.title" :aria-label="due.title">
      <h2>{{ due.title }}</h2>
      <table class="plain">
        <tbody>
          <tr v-for="b in due.bottles" :key="b.id">
            <td>
              <RouterLink :to="`/shelf/${b.id}`">{{ b.title }}</RouterLink>
            </td>
            <td class="figure">{{ due.day(b) }}</td>
            <td>{{ due.says(b) }}</td>
          </tr>
        </tbody>
      </table>
    </section>

    <section v-if="today.orders.length" aria-labelledby="orders">
      <h2 id="orders">To order</h2>
      <table class="plain">
        <tbody>
          <tr v-for="o in today.orders" :key="o.name">
            <td>
              <RouterLink to="/store">{{ o.name }}</RouterLink>
            </td>
            <td>{{ o.order }} or more</td>
            <td :class="{ void: o.late }">by {{ o.by }}{{ o.late ? ', too late: borrow it, or make less' : '' }}</td>
          </tr>
        </tbody>
      </table>
    </section>

    <section v-if="today.recent.length" aria-labelledby="recent">
      <h2 id="recent">Lately</h2>
      <table class="plain">
        <thead>
          <tr>
            <th>Run</th>
            <th>Work</th>
            <th>Ended</th>
            <th>By</th>
            <th>When</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="run in today.recent" :key="run.id">
            <td class="figure">{{ run.number }}</td>
            <td>
              <RouterLink :to="`/runs/${run.id}`">{{ run.title }}</RouterLink>
            </td>
            <td :class="{ void: run.status === 'void' }">{{ ending(run) }}{{ run.reason ? `, ${run.reason}` : '' }}</td>
            <td>{{ run.by }}</td>
            <td>{{ when(run.changed) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <p class="soft">
      {{ today.bottles === 1 ? '1 bottle is' : `${today.bottles} bottles are` }} on the
      <RouterLink to="/shelf">shelf</RouterLink>.
    </p>
  </template>
</template>

<style scoped>
.first {
  border-left: 5px solid var(--amber);
  background: var(--amber-tint);
  padding: 0.8rem 1.2rem;
}
.first ol {
  margin: 0 0 0.6rem;
  padding-left: 1.4rem;
}
.first .there {
  color: var(--ink-soft);
}
.begin {
  margin: 1rem 0 0;
  color: var(--ink-soft);
}
.now {
  border: 1px solid var(--line);
  border-left: 6px solid var(--green);
  background: var(--sheet);
  padding: 0.8rem 1.2rem 1rem;
  margin-bottom: 1rem;
}
.now p {
  margin: 0 0 0.4rem;
}
.now h2 {
  font-size: 1.5rem;
  margin: 0 0 0.2rem;
}
.warned {
  border-left: 5px solid var(--red);
  background: var(--red-tint);
  padding: 0.6rem 1.2rem;
}
.warned p {
  margin: 0;
}
section {
  max-width: 62rem;
  margin: 1.2rem 0 2rem;
}
.open {
  list-style: none;
  margin: 0 0 1rem;
  padding: 0;
}
.open a {
  display: grid;
  gap: 0.1rem;
  color: inherit;
  text-decoration: none;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-left: 5px solid var(--green);
  padding: 0.7rem 1rem;
  margin-bottom: 0.6rem;
}
.open a:hover strong {
  text-decoration: underline;
}
.open strong {
  font-size: 1.15rem;
  overflow-wrap: anywhere;
}
.empty {
  color: var(--ink-soft);
  max-width: 40rem;
}
.void {
  color: var(--red);
}
</style>
