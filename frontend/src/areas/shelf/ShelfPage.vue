<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type Bottle } from '@/api/client'
import { latest } from '@/api/latest'
import { onChange } from '@/api/events'
import VialDrawing from '@/bench/VialDrawing.vue'
import FormulaText from '@/design/FormulaText.vue'
import { day } from '@/design/time'
import { spread } from '@/design/figure'
import BottleDrawing from './BottleDrawing.vue'
import LabelSheet from './LabelSheet.vue'

type Only = 'expiring' | 'standardise' | 'unlabelled' | 'low'

const bottles = shallowRef<Bottle[]>()
const next = ref<string>()
const search = ref('')
const only = ref<Only | ''>('')
const trouble = ref('')
const picked = ref<string[]>([])
const filters: { value: Only | ''; label: string; none: string }[] = [
  { value: '', label: 'All', none: 'Bottles stand here once a run is finished and labelled.' },
  { value: 'expiring', label: 'Expire within two weeks', none: 'No bottle expires within two weeks.' },
  { value: 'standardise', label: 'To standardise', none: 'No bottle is due to be standardised.' },
  { value: 'unlabelled', label: 'Label not printed', none: 'The label of every bottle was printed.' },
  { value: 'low', label: 'Little left', none: 'Every bottle has more than a fifth left.' },
]
const none = computed(() =>
  search.value ? 'No bottle of that name.' : filters.find((f) => f.value === only.value)!.none,
)

const asked = latest()
async function look(more = false) {
  const current = asked()
  try {
    const query = {
      q: search.value.slice(0, 200),
      ...(only.value ? { only: only.value } : {}),
      ...(more && next.value ? { cursor: next.value } : {}),
    }
    const page = await ask(api.GET('/bottles', { params: { query } }))
    if (!current()) return
    bottles.value = more ? [...(bottles.value ?? []), ...page.items] : page.items
    next.value = page.next
    trouble.value = ''
  } catch (error) {
    if (current()) trouble.value = sentence(error)
  }
}
onMounted(() => look())
onChange(['shelf', 'bottle'], () => void look())
watch(
  search,
  useDebounceFn(() => look(), 120),
)
watch(only, () => look())

function pick(id: string) {
  picked.value = picked.value.includes(id) ? picked.value.filter((p) => p !== id) : [...picked.value, id]
}

const standing = computed(() => bottles.value?.filter((b) => b.state === 'shelf') ?? [])
/** The tubes of one dilution stand together. */
const racks = computed(() => {
  const byRun = new Map<string, { runId: string; number: number; tubes: Bottle[] }>()
  for (const b of standing.value.filter((b) => b.tube && b.runId)) {
    const rack = byRun.get(b.runId!) ?? { runId: b.runId!, number: b.runNumber ?? 0, tubes: [] }
    rack.tubes.unshift(b) // listed newest first, standing in the order of the ladder
    byRun.set(b.runId!, rack)
  }
  return [...byRun.values()]
})
const bottlesAlone = computed(() => standing.value.filter((b) => !b.tube || !b.runId))
const gone = computed(() => bottles.value?.filter((b) => b.state !== 'shelf') ?? [])
const states = { shelf: '', discarded: 'discarded', void: 'void', poured: 'poured together' }
</script>

<template>
  <header class="head">
    <h1>Shelf</h1>
    <label class="search"
      >Search <kbd>/</kbd><el-input v-model="search" data-search type="search" maxlength="200"
    /></label>
  </header>
  <nav class="tabs" aria-label="Which bottles">
    <button v-for="f in filters" :key="f.value" type="button" :aria-pressed="only === f.value" @click="only = f.value">
      {{ f.label }}
    </button>
  </nav>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!bottles && !trouble" class="soft">Looking…</p>
  <p v-if="bottles && bottles.length === 0" class="soft">
    {{ none }}
    <RouterLink v-if="!search && !only" to="/standards">Make the first one</RouterLink>
  </p>
  <section v-for="rack in racks" :key="rack.runId" class="rack" :aria-label="`Rack of run ${rack.number}`">
    <p class="small soft">
      Rack of <RouterLink :to="`/runs/${rack.runId}`">run {{ rack.number }}</RouterLink
      >, {{ rack.tubes[0]!.name }}, {{ rack.tubes[0]!.by }} {{ day(rack.tubes[0]!.made) }},
      <span class="whole">use by {{ rack.tubes[0]!.expires }}</span>
    </p>
    <ol>
      <li v-for="b in rack.tubes" :key="b.id">
        <el-checkbox
          :model-value="picked.includes(b.id)"
          :aria-label="`Label for bottle ${b.number}`"
          @change="pick(b.id)"
        />
        <VialDrawing :level="Math.max(0.05, b.left / b.volume)" />
        <RouterLink :to="`/shelf/${b.id}`">
          <strong>{{ b.number }}</strong>
          <span class="figure">{{
            b.concentration.value === 0
              ? 'blank'
              : `${b.concentration.text} ${spread(b.concentration)} ${b.concentration.unit}`
          }}</span>
          <span class="small soft">{{ b.left.toFixed(0) }} mL</span>
        </RouterLink>
      </li>
    </ol>
  </section>
  <ul v-if="bottlesAlone.length" class="shelf">
    <li v-for="b in bottlesAlone" :key="b.id">
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
            >{{ b.concentration.text }} <span class="soft">{{ spread(b.concentration) }}</span>
            {{ b.concentration.unit }}</span
          >
          <span class="small soft">
            {{ b.left.toFixed(0) }} of {{ b.volume.toFixed(0) }} mL · {{ b.by }}
            <span class="whole">{{ day(b.made) }} ·</span>
            <span class="whole" :class="{ late: b.expired }"
              >{{ b.expired ? 'expired' : 'use by' }} {{ b.expires }}</span
            >
          </span>
          <span v-if="b.doubt" class="small late" :title="b.doubt">in doubt: {{ b.doubt }}</span>
          <span v-else-if="b.standardiseNow" class="small late">standardise it: due {{ b.standardiseBy }}</span>
          <span v-else-if="!b.exact" class="small approx">approximate until standardised</span>
        </span>
      </RouterLink>
    </li>
  </ul>
  <LabelSheet v-if="standing.length" :picked="picked" />
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
          <td>{{ states[b.state] }}: {{ b.reason }}</td>
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
.rack {
  border-bottom: 4px solid #e4dfd2;
  padding: 0.8rem 0 0.5rem;
}
.rack p {
  margin: 0 0 0.3rem;
}
.rack ol {
  list-style: none;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 2rem;
}
.rack li {
  display: flex;
  align-items: center;
  gap: 0.6rem;
}
.rack li a {
  display: grid;
  grid-template-columns: auto auto;
  gap: 0 0.7rem;
  align-items: baseline;
  color: inherit;
  text-decoration: none;
}
.rack li a strong {
  text-decoration: underline;
}
.rack li a .small {
  grid-column: 1 / -1;
}
.whole {
  white-space: nowrap;
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
</style>
