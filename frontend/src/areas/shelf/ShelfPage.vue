<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type Bottle } from '@/api/client'
import { onChange } from '@/api/events'
import FormulaText from '@/design/FormulaText.vue'
import { day } from '@/design/time'
import BottleDrawing from './BottleDrawing.vue'

const bottles = ref<Bottle[]>()
const next = ref<string>()
const search = ref('')
const trouble = ref('')
const picked = ref<string[]>([])
const paper = ref<'a4' | 'letter' | 'label'>('a4')
const start = ref(1)

async function look(more = false) {
  try {
    const query = { q: search.value.slice(0, 200), ...(more && next.value ? { cursor: next.value } : {}) }
    const page = await ask(api.GET('/bottles', { params: { query } }))
    bottles.value = more ? [...(bottles.value ?? []), ...page.items] : page.items
    next.value = page.next
    trouble.value = ''
  } catch (error) {
    trouble.value = sentence(error)
  }
}
onMounted(() => look())
onChange(['shelf'], () => void look())
watch(
  search,
  useDebounceFn(() => look(), 120),
)

function pick(id: string) {
  picked.value = picked.value.includes(id) ? picked.value.filter((p) => p !== id) : [...picked.value, id]
}

const standing = computed(() => bottles.value?.filter((b) => b.state === 'shelf') ?? [])
const gone = computed(() => bottles.value?.filter((b) => b.state !== 'shelf') ?? [])
const sheet = computed(
  () =>
    `/api/v1/labels?${picked.value.map((id) => `bottle=${id}`).join('&')}&paper=${paper.value}&start=${start.value || 1}`,
)
</script>

<template>
  <header class="head">
    <h1>Shelf</h1>
    <label class="search"
      >Search <kbd>/</kbd><el-input v-model="search" data-search type="search" maxlength="200"
    /></label>
  </header>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!bottles && !trouble" class="soft">Looking…</p>
  <p v-if="bottles && bottles.length === 0" class="soft">
    {{ search ? 'No bottle of that name.' : 'Bottles stand here once a run is finished and labelled.' }}
    <RouterLink v-if="!search" to="/standards">Make the first one</RouterLink>
  </p>
  <ul v-if="standing.length" class="shelf">
    <li v-for="b in standing" :key="b.id">
      <el-checkbox
        :model-value="picked.includes(b.id)"
        :aria-label="`Label for bottle ${b.number}`"
        @change="pick(b.id)"
      />
      <RouterLink :to="`/shelf/${b.id}`" class="card">
        <BottleDrawing :bottle="b" />
        <span class="words">
          <strong>{{ b.name }}</strong>
          <FormulaText :pieces="b.formula" class="soft" />
          <span class="figure conc"
            >{{ b.concentration.text }} <span class="soft">± {{ b.concentration.uText }}</span>
            {{ b.concentration.unit }}</span
          >
          <span class="small soft">
            {{ b.volume }} mL · {{ b.by }} {{ day(b.made) }} ·
            <span :class="{ late: b.expired }">{{ b.expired ? 'expired' : 'use by' }} {{ b.expires }}</span>
          </span>
          <span v-if="!b.exact" class="small approx">approximate until standardised</span>
        </span>
      </RouterLink>
    </li>
  </ul>
  <section v-if="standing.length" class="sheet-of no-print" aria-label="Label sheet">
    <h2>Labels on a sheet</h2>
    <label
      >Paper
      <el-select v-model="paper">
        <el-option value="a4" label="A4, 10 labels" />
        <el-option value="letter" label="Letter, 10 labels" />
        <el-option value="label" label="single labels" /> </el-select
    ></label>
    <label
      >First free place <el-input v-model.number="start" type="number" min="1" max="10" :disabled="paper === 'label'"
    /></label>
    <a v-if="picked.length" class="go" :href="sheet" target="_blank">
      Print {{ picked.length === 1 ? '1 label' : `${picked.length} labels` }}
    </a>
    <span v-else class="soft">Tick the bottles above.</span>
  </section>
  <el-button v-if="next" @click="look(true)">Older bottles</el-button>
  <section v-if="gone.length">
    <h2>No longer on the shelf</h2>
    <table class="plain">
      <tbody>
        <tr v-for="b in gone" :key="b.id">
          <td class="figure">{{ b.number }}</td>
          <td>
            <RouterLink :to="`/shelf/${b.id}`">{{ b.title }}</RouterLink>
          </td>
          <td>{{ b.state === 'void' ? 'void' : 'discarded' }}: {{ b.reason }}</td>
        </tr>
      </tbody>
    </table>
  </section>
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
.sheet-of .el-input {
  width: 6rem;
  display: block;
}
.sheet-of .el-select {
  width: 11rem;
  display: block;
}
.shelf {
  list-style: none;
  padding: 0;
  margin: 1rem 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(23rem, 1fr));
  gap: 0 2rem;
}
.shelf li {
  display: flex;
  align-items: center;
  gap: 0.6rem;
  border-bottom: 4px solid #e4dfd2;
  padding-top: 0.8rem;
}
.card {
  display: flex;
  gap: 0.9rem;
  align-items: end;
  color: inherit;
  text-decoration: none;
  flex: 1;
  min-width: 0;
}
.card:hover strong {
  text-decoration: underline;
}
.words {
  display: grid;
  padding-bottom: 0.5rem;
  min-width: 0;
}
.words strong {
  overflow-wrap: anywhere;
}
.conc {
  font-size: 1.12rem;
  font-weight: 700;
}
.conc .soft {
  font-weight: 400;
}
.late {
  color: var(--red);
  font-weight: 700;
}
.approx {
  color: var(--amber);
}
.sheet-of {
  display: flex;
  gap: 1rem;
  align-items: end;
  flex-wrap: wrap;
  margin: 1.5rem 0;
}
.sheet-of h2 {
  width: 100%;
  margin: 0;
}
.sheet-of .soft {
  padding: 0.6rem 0;
}
</style>
