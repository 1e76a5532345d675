<script setup lang="ts">
import './form.css'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask, sentence, type LabSubstance, type Piece } from '@/api/client'
import { latest } from '@/api/latest'
import { figure } from '@/api/figures'
import FormulaText from '@/design/FormulaText.vue'
import SelectField from '@/bench/SelectField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'

defineProps<{ mayChange: boolean }>()
const list = shallowRef<LabSubstance[]>()
const search = ref('')
const adding = ref(false)
const reading = ref<{ pieces: Piece[]; molarMassText: string }>()
const readingWrong = ref('')
const { busy, says, fields, send, problem } = useForm()
const empty = () => ({
  name: '',
  formula: '',
  class: 'secondary' as 'primary' | 'secondary',
  density: '',
  solubility: '',
  hygroscopic: false,
  drying: '',
  signal: '' as '' | 'Danger' | 'Warning',
  hazards: '',
  source: '',
})
const draft = ref(empty())

const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/substances', { params: { query: { statements: true } } }))
}, ['setup'])

const shown = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  return (list.value ?? []).filter(
    (s) => !wanted || `${s.substance.name} ${s.substance.formula}`.toLowerCase().includes(wanted),
  )
})

const asked = latest()
watch(
  () => draft.value.formula,
  useDebounceFn(async (formula: string) => {
    const current = asked()
    reading.value = undefined
    readingWrong.value = ''
    if (!formula.trim()) return
    try {
      const read = await ask(api.POST('/compute/formula', { body: { formula: formula.slice(0, 9999) } }))
      if (current()) reading.value = read
    } catch (error) {
      if (current()) readingWrong.value = sentence(error)
    }
  }, 60),
)

async function add() {
  const d = draft.value
  const amount = (text: string) => (text.trim() === '' ? undefined : figure(text))
  const done = await send(() =>
    ask(
      api.POST('/substances', {
        body: {
          name: d.name,
          formula: d.formula,
          class: d.class,
          density: amount(d.density),
          solubility: amount(d.solubility),
          hygroscopic: d.hygroscopic,
          drying: d.drying,
          signal: d.signal,
          hazards: d.hazards.split(/[\s,;]+/).filter(Boolean),
          source: d.source,
        },
      }),
    ),
  )
  if (done) {
    draft.value = empty()
    adding.value = false
  }
}
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <div class="bar">
    <label class="small soft">Search <kbd>/</kbd><el-input v-model="search" data-search type="search" /></label>
    <el-button v-if="mayChange && !adding" type="primary" @click="adding = true">Add a substance</el-button>
  </div>
  <form v-if="adding" class="setup-form" @submit.prevent="add">
    <h2>A substance of your own</h2>
    <label
      >Name<el-input v-model="draft.name" required maxlength="120" /><span class="problem">{{
        problem('/name')
      }}</span></label
    >
    <label
      >Formula<el-input v-model="draft.formula" required maxlength="200" placeholder="CuSO4.5H2O" />
      <span v-if="readingWrong || problem('/formula')" class="problem">{{ readingWrong || problem('/formula') }}</span>
      <span v-else-if="reading"><FormulaText :pieces="reading.pieces" />, {{ reading.molarMassText }}</span>
    </label>
    <SelectField
      v-model="draft.class"
      label="Standard"
      :options="[
        ['primary', 'primary'],
        ['secondary', 'secondary'],
      ]"
      :problem="problem('/class')"
    />
    <label
      >Density, g/mL<el-input v-model="draft.density" inputmode="decimal" /><span class="problem">{{
        problem('/density')
      }}</span></label
    >
    <label
      >Solubility, g in 100 mL at 20 °C<el-input v-model="draft.solubility" inputmode="decimal" /><span
        class="problem"
        >{{ problem('/solubility') }}</span
      ></label
    >
    <label>Drying<el-input v-model="draft.drying" maxlength="200" placeholder="2 h at 110 °C" /></label>
    <SelectField
      v-model="draft.signal"
      label="Signal word"
      :options="[
        ['', 'none'],
        ['Warning', 'Warning'],
        ['Danger', 'Danger'],
      ]"
    />
    <label
      >Hazard statements<el-input v-model="draft.hazards" maxlength="200" placeholder="H302 H319" /><span
        class="problem"
        >{{ [...fields.entries()].find(([pointer]) => pointer.startsWith('/hazards'))?.[1] }}</span
      ></label
    >
    <label
      >Source of these values<el-input
        v-model="draft.source"
        required
        maxlength="200"
        placeholder="safety data sheet of …"
    /></label>
    <el-checkbox v-model="draft.hygroscopic" class="all">takes up water or carbon dioxide from the air</el-checkbox>
    <p v-if="says && fields.size === 0" class="problem all" role="alert">{{ says }}</p>
    <div class="all">
      <el-button type="primary" native-type="submit" :disabled="busy">Add it</el-button>
      <el-button link @click="adding = false">Leave it</el-button>
    </div>
  </form>
  <p v-if="!list && !trouble" class="soft">Looking…</p>
  <p v-else-if="shown.length === 0" class="soft">No substance of that name or formula.</p>
  <table v-else class="plain">
    <thead>
      <tr>
        <th>Name</th>
        <th>Formula</th>
        <th class="r">g/mol</th>
        <th class="r">g/mL</th>
        <th class="r">g in 100 mL</th>
        <th>Standard</th>
        <th>Hazards</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="s in shown" :key="s.substance.key">
        <td class="text">
          {{ s.substance.name }}<span v-if="s.own" class="small soft">, our own: {{ s.substance.sources.all }}</span>
        </td>
        <td><FormulaText :pieces="s.pieces" /></td>
        <td class="figure r">{{ s.molarMass.toFixed(2) }}</td>
        <td class="figure r">{{ s.substance.density ?? '–' }}</td>
        <td class="figure r">{{ s.substance.solubility ?? '–' }}</td>
        <td>{{ s.substance.class }}</td>
        <td class="small">
          {{ s.substance.signal }}
          <span :title="s.statements.map((h) => `${h.code} ${h.text}`).join('\n')">{{
            s.substance.hazards.join(' ') || 'none'
          }}</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.bar {
  display: flex;
  justify-content: space-between;
  align-items: end;
  max-width: 62rem;
}
.text {
  min-width: 11rem;
}
.r {
  text-align: right !important;
}
</style>
