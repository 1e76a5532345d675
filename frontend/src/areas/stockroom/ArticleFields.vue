<script setup lang="ts">
import '@/areas/setup/form.css'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { api, ask, type Article, type LabSubstance } from '@/api/client'
import { figures } from '@/api/figures'
import { newId } from '@/api/id'
import { vFirst } from '@/bench/first'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'

/** What the store keeps of an article: what it is, how it is counted, how much has to be there. A new one brings its
 * first container along. */
const props = defineProps<{ of?: Article }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { busy, says, fields, problem, send } = useForm()
const substances = shallowRef<LabSubstance[]>([])
onMounted(() =>
  send(async () => {
    substances.value = await ask(api.GET('/substances'))
  }),
)
const none = '' // not a substance
const draft = ref({
  key: props.of?.article.key ?? none,
  name: props.of?.article.name ?? '',
  unit: props.of?.article.unit ?? ('g' as Article['article']['unit']),
  minimum: props.of ? String(props.of.article.minimum) : '',
  leadDays: props.of ? String(props.of.article.leadDays) : '7',
  amount: '',
  place: '',
  expires: '',
})
// What somebody else changes meanwhile is not written over.
const version = props.of?.version ?? 0
const ids = { article: props.of?.id ?? newId(), container: newId() }
const choices = computed((): [string, string][] => [
  [none, 'none of the substances'],
  ...substances.value.map((s): [string, string] => [s.substance.key, s.substance.name]),
])
const chosen = computed(() => substances.value.find((s) => s.substance.key === draft.value.key)?.substance)
watch(
  () => draft.value.key,
  () => {
    if (!chosen.value) return
    draft.value.name = chosen.value.name
    draft.value.unit = chosen.value.liquid ? 'mL' : 'g'
  },
)
const units = [
  ['g', 'g'],
  ['mL', 'mL'],
  ['pieces', 'pieces'],
] as const

async function keep() {
  const { key, name, unit, amount, place, expires, ...typed } = draft.value
  const done = await send(async () => {
    const article = { key, name, unit, ...figures(typed, { minimum: 0, leadDays: 0 }) }
    await ask(api.PUT('/store/articles/{id}', { params: { path: { id: ids.article } }, body: { article, version } }))
    if (props.of || amount.trim() === '') return
    const body = { article: ids.article, amount, place, expires: expires.trim(), version: 0 }
    await ask(api.PUT('/store/containers/{id}', { params: { path: { id: ids.container } }, body }))
  })
  if (done) emit('done')
}
async function remove() {
  const path = { path: { id: ids.article }, query: { version } }
  if (await send(() => ask(api.DELETE('/store/articles/{id}', { params: path })))) emit('done')
}
</script>

<template>
  <form class="setup-form" @submit.prevent="keep">
    <h2>{{ of ? `Change ${of.article.name}` : 'Add to the store' }}</h2>
    <SelectField
      v-model="draft.key"
      v-first
      label="Substance"
      filterable
      :options="choices"
      :problem="problem('/article/key')"
    />
    <TextField v-model="draft.name" words :max="120" label="Name" :problem="problem('/article/name')" />
    <SelectField v-model="draft.unit" label="Counted in" :options="units" :problem="problem('/article/unit')" />
    <TextField
      v-model="draft.minimum"
      :label="`Minimum, ${draft.unit}`"
      :problem="problem('/minimum') || problem('/article/minimum')"
    />
    <TextField
      v-model="draft.leadDays"
      label="An order takes, days"
      :problem="problem('/leadDays') || problem('/article/leadDays')"
    />
    <template v-if="!of">
      <TextField
        v-model="draft.amount"
        words
        :label="`First container holds, ${draft.unit}`"
        :problem="problem('/amount')"
      />
      <TextField v-model="draft.place" words label="Place" :problem="problem('/place')" />
      <TextField
        v-model="draft.expires"
        words
        label="Expires, if a day is given"
        placeholder="2027-03-31"
        :problem="problem('/expires')"
      />
    </template>
    <p v-if="says && fields.size === 0" class="problem all" role="alert">{{ says }}</p>
    <div class="all">
      <el-button type="primary" native-type="submit" :disabled="busy">{{ of ? 'Keep it' : 'Add it' }}</el-button>
      <el-button link @click="emit('leave')">Leave it</el-button>
      <el-button v-if="of" link type="danger" :disabled="busy" @click="remove">Take it off the list</el-button>
    </div>
  </form>
</template>
