<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Article } from '@/api/client'
import { useLook } from '@/bench/useLook'
import { day } from '@/design/time'
import ArticleEntry from './ArticleEntry.vue'
import ArticleFields from './ArticleFields.vue'
import { shortDay } from './article'

type Only = 'order' | 'expired'

/** What is kept in the store: how much is left, what sessions will take of it, and what has to be ordered by when. */
const list = ref<Article[]>()
const search = ref('')
const only = ref<Only | ''>('')
const adding = ref(false)
const { trouble, look } = useLook(async () => {
  list.value = await ask(api.GET('/store'))
}, ['store', 'planned', 'shelf', 'setup'])

const today = day(new Date().toISOString())
const filters: { value: Only | ''; label: string; none: string }[] = [
  { value: '', label: 'All', none: '' },
  { value: 'order', label: 'To order', none: 'Nothing has to be ordered: there is enough for all that is planned.' },
  { value: 'expired', label: 'Expired', none: 'Nothing has expired.' },
]
const matches = (a: Article) =>
  (only.value !== 'order' || a.order) &&
  (only.value !== 'expired' || a.containers.some((c) => c.expires && c.expires < today)) &&
  `${a.article.name} ${a.containers.map((c) => c.place).join(' ')}`.toLowerCase().includes(search.value.toLowerCase())
const shown = computed(() => (list.value ?? []).filter(matches))
const orders = computed(() =>
  (list.value ?? []).filter((a) => a.order).sort((a, b) => a.standing.orderBy!.localeCompare(b.standing.orderBy!)),
)
const none = computed(() =>
  search.value ? 'Nothing of that name or in that place.' : filters.find((f) => f.value === only.value)!.none,
)
async function added() {
  adding.value = false
  await look()
}
</script>

<template>
  <header class="head">
    <h1>Store</h1>
    <label class="search"
      >Search <kbd>/</kbd><el-input v-model="search" data-search type="search" maxlength="100"
    /></label>
  </header>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!list && !trouble" class="soft">Looking…</p>
  <p v-if="list?.length === 0" class="soft">
    Nothing is kept here yet. Add what runs out: solids, concentrates, indicators, buffer sachets. What is weighed is
    then taken from it, and a session that needs more than there is says so days before.
  </p>
  <section v-if="orders.length" class="orders" aria-label="To order">
    <h2>To order</h2>
    <table class="plain">
      <thead>
        <tr>
          <th>By</th>
          <th>What</th>
          <th>At least</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="a in orders" :key="a.id">
          <td :class="{ late: a.standing.late }">
            {{ shortDay(a.standing.orderBy!) }}{{ a.standing.late ? ', too late' : '' }}
          </td>
          <td>{{ a.article.name }}</td>
          <td class="figure">{{ a.order }}</td>
        </tr>
      </tbody>
    </table>
    <p><a href="/api/v1/store/orders.csv" download>This list as a table</a></p>
  </section>
  <p v-if="!adding"><el-button type="primary" @click="adding = true">Add to the store</el-button></p>
  <ArticleFields v-else @done="added" @leave="adding = false" />
  <nav v-if="list?.length" class="tabs" aria-label="Which articles">
    <button v-for="f in filters" :key="f.value" type="button" :aria-pressed="only === f.value" @click="only = f.value">
      {{ f.label }}
    </button>
  </nav>
  <p v-if="list?.length && shown.length === 0" class="soft">{{ none }}</p>
  <ArticleEntry v-for="a in shown" :key="a.id" :article="a" @changed="look" />
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: end;
  gap: 1rem;
}
.search .el-input {
  width: 18rem;
}
.orders {
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 0.4rem 1rem;
  margin: 0.8rem 0;
  max-width: 48rem;
}
.orders h2 {
  margin: 0.2rem 0;
}
.late {
  color: var(--red);
  font-weight: 700;
}
@media (max-width: 700px) {
  .head {
    display: block;
  }
  .search .el-input {
    width: 100%;
  }
}
</style>
