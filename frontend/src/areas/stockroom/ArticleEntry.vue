<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Article } from '@/api/client'
import { newId } from '@/api/id'
import { vFirst } from '@/bench/first'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import VerdictLine from '@/bench/VerdictLine.vue'
import ArticleFields from './ArticleFields.vue'
import { shortDay } from './article'
import ContainerRow from './ContainerRow.vue'
import StockBar from './StockBar.vue'

/** An article of the store: how much is there, what is planned of it, its containers. */
const props = defineProps<{ article: Article }>()
const emit = defineEmits<{ changed: [] }>()
const open = ref<'' | 'container' | 'change'>('')
const { busy, says, fields, problem, send } = useForm()
const fresh = () => ({ amount: '', place: '', opened: '', expires: '' })
const typed = ref(fresh())
let id = newId()

async function add() {
  const body = { article: props.article.id, ...typed.value, version: 0 }
  if (!(await send(() => ask(api.PUT('/store/containers/{id}', { params: { path: { id } }, body }))))) return
  id = newId()
  typed.value = fresh()
  done()
}
function done() {
  open.value = ''
  emit('changed')
}
</script>

<template>
  <section class="article" :aria-label="article.article.name">
    <div class="head">
      <h2>{{ article.article.name }}</h2>
      <p class="there">
        <span class="figure">{{ article.usable }}</span>
        <span v-if="article.article.minimum > 0" class="soft small"> minimum {{ article.minimum }}</span>
      </p>
      <StockBar :article="article" />
      <p class="order" :class="{ late: article.standing.late }">
        <template v-if="article.order">
          order <strong>{{ article.order }}</strong> or more by {{ shortDay(article.standing.orderBy!) }}
        </template>
      </p>
    </div>
    <VerdictLine v-for="v in article.standing.verdicts" :key="v.sentence" :verdict="v" />
    <ul>
      <ContainerRow
        v-for="c in article.containers"
        :key="c.id"
        :container="c"
        :article="article"
        @changed="emit('changed')"
      />
      <li v-if="article.containers.length === 0" class="soft">No container with anything in it.</li>
    </ul>
    <p class="no-print acts">
      <el-button
        link
        type="primary"
        :aria-label="`Add a container of ${article.article.name}`"
        :aria-expanded="open === 'container'"
        @click="open = open === 'container' ? '' : 'container'"
        >Add a container</el-button
      >
      <el-button
        link
        type="primary"
        :aria-label="`Change ${article.article.name}`"
        :aria-expanded="open === 'change'"
        @click="open = open === 'change' ? '' : 'change'"
        >Change</el-button
      >
    </p>
    <ArticleFields v-if="open === 'change'" :of="article" @done="done" @leave="open = ''" />
    <form v-if="open === 'container'" class="setup-form" @submit.prevent="add">
      <TextField
        v-model="typed.amount"
        v-first
        words
        :label="`It holds, ${article.article.unit}`"
        :problem="problem('/amount')"
      />
      <TextField v-model="typed.place" words label="Place" :problem="problem('/place')" />
      <TextField
        v-model="typed.opened"
        words
        label="Opened on, if it is open"
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
      <div class="all">
        <el-button type="primary" native-type="submit" :disabled="busy">Add it</el-button>
        <el-button link @click="open = ''">Leave it</el-button>
      </div>
    </form>
    <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
  </section>
</template>

<style scoped>
.article {
  border-top: 2px solid var(--ink);
  padding: 0.6rem 0 0.8rem;
}
.head {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 0 1rem;
  align-items: center;
}
h2 {
  margin: 0;
  font-size: 1.05rem;
  overflow-wrap: anywhere;
}
.there,
.order {
  margin: 0;
}
.there .figure {
  font-size: 1.15rem;
}
.late {
  color: var(--red);
}
ul {
  list-style: none;
  margin: 0.4rem 0 0;
  padding: 0;
}
.acts {
  margin: 0.3rem 0 0;
}
.acts .el-button + .el-button {
  margin-left: 1rem;
}
@media (max-width: 900px) {
  .head {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
}
</style>
