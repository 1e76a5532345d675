<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask, type Bottle, type OpenedUnknowns, type Unknowns } from '@/api/client'
import { figure } from '@/api/figures'
import { newId } from '@/api/id'
import { useSession } from '@/api/session'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useAnswer } from '@/bench/useAnswer'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import { when } from '@/design/time'

/** Unknowns for the groups of a session: asked for, given out by their numbers, prepared by a list, and a key that is
 * opened on purpose. */
const props = defineProps<{ session: string; groups: number }>()
const sets = ref<Unknowns[]>([])
const bottles = shallowRef<Bottle[]>([])
const { busy, says, fields, problem, send } = useForm()
const account = useSession()

const { trouble, look } = useLook(async () => {
  const [list, page] = await Promise.all([
    ask(api.GET('/lab-sessions/{id}/unknowns', { params: { path: { id: props.session } } })),
    ask(api.GET('/bottles')),
  ])
  sets.value = list
  bottles.value = page.items.filter((b) => b.state === 'shelf')
}, ['planned', 'shelf'])

const none = ''
const asked = ref({ bottle: none, stock: '', name: '', low: '', high: '', each: '100 mL', levels: '', within: '1' })
let id = newId()
const choices = computed((): [string, string][] => [
  [none, 'one that is typed'],
  ...bottles.value.map((b): [string, string] => [b.id, `bottle ${b.number}: ${b.title}`]),
])
const body = (tries: boolean) => {
  const { levels, within, ...typed } = asked.value
  const many = figure(levels)
  return { id, try: tries, ...typed, within: figure(within) || 0, ...(levels.trim() ? { levels: many || 99 } : {}) }
}
const path = () => ({ path: { id: props.session } })
const complete = computed(
  () => asked.value.low && asked.value.high && (asked.value.bottle || (asked.value.stock && asked.value.name)),
)
const tried = useAnswer(
  () => (complete.value ? body(true) : undefined),
  (question, signal) => ask(api.POST('/lab-sessions/{id}/unknowns', { params: path(), body: question, signal })),
)
watch([asked, () => props.groups], tried.computeSoon, { deep: true })
const wrong = (field: string) => problem(field) || tried.problems.value.get(field) || ''
const besides = computed(() => wrong('/groups') || wrong('/class') || wrong('/seed'))

async function make() {
  const done = await send(() => ask(api.POST('/lab-sessions/{id}/unknowns', { params: path(), body: body(false) })))
  if (!done) return
  id = newId()
  await look()
}

const opened = ref<{ set: string; what: 'list' | 'key'; of: OpenedUnknowns }>()
const reason = ref('')
const asking = ref('') // for the reason, of this set
async function open(set: string, what: 'list' | 'key') {
  await send(async () => {
    const params = { path: { id: set } }
    const of = await ask(api.POST('/unknowns/{id}/openings', { params, body: { what, reason: reason.value } }))
    opened.value = { set, what, of }
    asking.value = reason.value = ''
    await look()
  })
}
const withdraw = (set: string) =>
  send(async () => {
    await ask(api.DELETE('/unknowns/{id}', { params: { path: { id: set } } }))
    await look()
  })
const opening = { list: 'the list', key: 'the key' }
</script>

<template>
  <details class="unknowns">
    <summary>Unknowns{{ sets.length ? `: ${sets.map((s) => s.name).join(', ')}` : '' }}</summary>
    <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
    <section v-for="set in sets" :key="set.id" :aria-label="`Unknowns: ${set.name}`">
      <h3>{{ set.name }}</h3>
      <p>
        {{ set.bottles.length }} bottles of {{ set.strengths }} strengths, from
        <span class="figure">{{ Number(set.stock.toPrecision(4)) }} mL</span> of
        {{ set.bottle ? `bottle ${set.bottle}` : 'the stock' }}.
      </p>
      <p class="small">
        <span v-for="b in set.bottles" :key="b.group" class="given"
          >group {{ b.group }}: <strong>{{ b.code }}</strong></span
        >
      </p>
      <p class="no-print">
        <el-button :disabled="busy" @click="open(set.id, 'list')">Open the list to prepare by</el-button>
        <el-button
          v-if="account.account?.role === 'instructor'"
          :aria-expanded="asking === set.id"
          @click="asking = asking === set.id ? '' : set.id"
          >Open the key…</el-button
        >
        <el-button link type="danger" :disabled="busy" @click="withdraw(set.id)">Withdraw them</el-button>
      </p>
      <form v-if="asking === set.id" class="why" @submit.prevent="open(set.id, 'key')">
        <TextField v-model="reason" words :max="200" label="Why the key is opened" :problem="problem('/reason')" />
        <el-button type="primary" native-type="submit" :disabled="busy">Open it, on record</el-button>
      </form>
      <table v-if="opened?.set === set.id" class="plain" :aria-label="opened.what === 'key' ? 'The key' : 'To prepare'">
        <tbody v-if="opened.what === 'list'">
          <tr v-for="f in opened.of.flasks" :key="f.letter">
            <td>{{ f.letter }}</td>
            <td class="figure">{{ f.made }}</td>
            <td>bottles {{ f.codes.join(', ') }}</td>
          </tr>
        </tbody>
        <tbody v-else>
          <tr v-for="g in opened.of.groups" :key="g.group">
            <td>group {{ g.group }}</td>
            <td>bottle {{ g.code }}</td>
            <td class="figure">{{ g.strength }}</td>
          </tr>
        </tbody>
      </table>
      <ul v-if="set.openings.length" class="small soft" aria-label="Opened">
        <li v-for="o in set.openings" :key="o.at">
          {{ o.by }} opened {{ opening[o.what] }} {{ when(o.at) }}{{ o.reason ? `: ${o.reason}` : '' }}
        </li>
      </ul>
    </section>

    <form @submit.prevent="make">
      <p class="soft">
        Each group gets an unknown: a few strengths, made from one stock with the glass that is here, far enough apart
        to be told from one another, and no two neighbours with the same.
      </p>
      <div class="fields">
        <SelectField v-model="asked.bottle" class="wide" label="From" :options="choices" :problem="wrong('/bottle')" />
        <TextField v-model="asked.name" words label="What is in them" :problem="wrong('/name')" />
        <TextField
          v-if="!asked.bottle"
          v-model="asked.stock"
          words
          label="Strength of the stock"
          :problem="wrong('/stock')"
        />
        <TextField
          v-model="asked.low"
          words
          label="From a strength of"
          placeholder="0.05 mol/L"
          :problem="wrong('/low')"
        />
        <TextField v-model="asked.high" words label="to" placeholder="0.2 mol/L" :problem="wrong('/high')" />
        <TextField v-model="asked.each" words label="A group gets" :problem="wrong('/each')" />
        <TextField v-model="asked.within" label="The method finds it within ±, %" :problem="wrong('/within')" />
        <TextField v-model="asked.levels" label="How many strengths" placeholder="5" :problem="wrong('/levels')" />
      </div>
      <p v-if="tried.answer.value && tried.problems.value.size === 0 && complete" role="status">
        {{ tried.answer.value.strengths }} strengths, at least
        {{ Number(tried.answer.value.apart.toPrecision(2)) }} times as far apart as the method is uncertain; about
        {{ Number(tried.answer.value.stock.toPrecision(3)) }} mL of the stock.
      </p>
      <p v-if="besides || (says && fields.size === 0)" class="problem" role="alert">{{ besides || says }}</p>
      <p><el-button native-type="submit" :disabled="busy || !complete">Make unknowns</el-button></p>
    </form>
  </details>
</template>

<style scoped>
.unknowns {
  margin-top: 1.2rem;
}
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.1rem 0.8rem;
}
.wide {
  grid-column: 1 / -1;
}
.given {
  display: inline-block;
  margin-right: 0.9rem;
}
h3 {
  margin: 0.8rem 0 0.2rem;
  overflow-wrap: anywhere;
}
.why {
  max-width: 24rem;
}
</style>
