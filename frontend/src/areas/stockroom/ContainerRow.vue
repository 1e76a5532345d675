<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Article, type StockEntry } from '@/api/client'
import { newId } from '@/api/id'
import { vFirst } from '@/bench/first'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { day, when } from '@/design/time'
import { wordsOf } from './article'

/** A container: what is left in it, a count by hand, its place and days, and what became of what it held. */
const props = defineProps<{ container: Article['containers'][number]; article: Article }>()
const emit = defineEmits<{ changed: [] }>()
const open = ref<'' | 'count' | 'change' | 'past'>('')
const { busy, says, fields, problem, send } = useForm()
const typed = ref({ amount: '', note: '', place: '', opened: '', expires: '' })
const past = ref<StockEntry[]>([])
let count = newId()
let version = 0 // as it was when the form was opened: what somebody else changes meanwhile is not written over

function show(what: typeof open.value) {
  const { place, opened, expires } = props.container
  version = props.container.version
  typed.value = { amount: '', note: '', place, opened, expires }
  fields.value = new Map()
  says.value = ''
  open.value = open.value === what ? '' : what
}
const path = () => ({ path: { id: props.container.id } })
async function keep() {
  const { amount, note, ...days } = typed.value
  const done = await send(() =>
    open.value === 'count'
      ? ask(
          api.POST('/store/containers/{id}/entries', {
            params: path(),
            body: { id: count, amount: amount || ' ', note },
          }),
        )
      : ask(
          api.PUT('/store/containers/{id}', {
            params: path(),
            body: { article: props.article.id, ...days, version },
          }),
        ),
  )
  if (!done) return
  count = newId()
  open.value = ''
  emit('changed')
}
async function lookBack() {
  show('past')
  if (open.value !== 'past') return
  await send(async () => {
    past.value = await ask(api.GET('/store/containers/{id}/entries', { params: path() }))
  })
}
const today = day(new Date().toISOString())
const named = (what: string) => `${what} container ${props.container.number}`
</script>

<template>
  <li class="container">
    <span class="soft number">No. {{ container.number }}</span>
    <strong class="figure" :class="{ late: container.left < 0 }">{{ container.text }}</strong>
    <span class="words" :class="{ late: container.expires && container.expires < today }">{{
      wordsOf(container, today)
    }}</span>
    <span class="acts no-print">
      <el-button
        link
        type="primary"
        :aria-label="named('Count')"
        :aria-expanded="open === 'count'"
        @click="show('count')"
        >Count</el-button
      >
      <el-button
        link
        type="primary"
        :aria-label="named('Change')"
        :aria-expanded="open === 'change'"
        @click="show('change')"
        >Change</el-button
      >
      <el-button
        link
        type="primary"
        :aria-label="named('History of')"
        :aria-expanded="open === 'past'"
        @click="lookBack"
        >History</el-button
      >
    </span>
    <form v-if="open === 'count' || open === 'change'" class="fields" @submit.prevent="keep">
      <template v-if="open === 'count'">
        <TextField
          v-model="typed.amount"
          v-first
          words
          :label="`What it holds, ${article.article.unit}`"
          :problem="problem('/amount')"
        />
        <TextField v-model="typed.note" words :max="200" label="How it was counted" :problem="problem('/note')" />
      </template>
      <template v-else>
        <TextField v-model="typed.place" v-first words label="Place" :problem="problem('/place')" />
        <TextField
          v-model="typed.opened"
          words
          label="Opened on"
          placeholder="2026-12-01"
          :problem="problem('/opened')"
        />
        <TextField
          v-model="typed.expires"
          words
          label="Expires on"
          placeholder="2027-03-31"
          :problem="problem('/expires')"
        />
      </template>
      <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
      <p class="send">
        <el-button type="primary" native-type="submit" :disabled="busy">{{
          open === 'count' ? 'Keep the count' : 'Keep it'
        }}</el-button>
        <span v-if="open === 'count'" class="soft">0 once it is empty or discarded.</span>
      </p>
    </form>
    <ol v-if="open === 'past'" class="past small" :aria-label="named('History of')">
      <li v-for="e in past" :key="e.id">
        {{ when(e.at) }}, {{ e.by }}:
        <template v-if="e.run"
          ><RouterLink :to="`/runs/${e.run}`">{{ e.note }}</RouterLink> took
          <span class="figure">{{ e.amount }} {{ article.article.unit }}</span></template
        >
        <template v-else
          >counted <span class="figure">{{ e.amount }} {{ article.article.unit }}</span
          >{{ e.note ? `, ${e.note}` : '' }}</template
        >
      </li>
      <li v-if="says" class="problem">{{ says }}</li>
    </ol>
  </li>
</template>

<style scoped>
.container {
  display: grid;
  grid-template-columns: 4rem 7rem minmax(0, 1fr) auto;
  gap: 0 0.8rem;
  align-items: baseline;
  padding: 0.25rem 0;
  border-top: 1px solid var(--line);
}
.words {
  overflow-wrap: anywhere;
}
.acts .el-button + .el-button {
  margin-left: 0.9rem;
}
.fields,
.past {
  grid-column: 1 / -1;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0 0.8rem;
  max-width: 40rem;
  padding: 0.3rem 0;
}
.send {
  grid-column: 1 / -1;
  margin: 0 0 0.4rem;
}
.past {
  list-style: none;
  margin: 0.2rem 0 0.5rem;
  padding: 0;
}
.late {
  color: var(--red);
}
@media (max-width: 700px) {
  .container {
    grid-template-columns: 3.5rem minmax(0, 1fr);
  }
  .words,
  .acts {
    grid-column: 1 / -1;
  }
}
</style>
