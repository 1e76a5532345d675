<script setup lang="ts">
import './form.css'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, type LabGlass } from '@/api/client'
import { figures } from '@/api/figures'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'

defineProps<{ mayChange: boolean }>()
const list = shallowRef<LabGlass[]>()
const adding = ref(false)
const { busy, says, fields, problem, send } = useForm()
const kinds = [
  'volumetric flask',
  'one-mark pipette',
  'graduated pipette',
  'piston pipette',
  'burette',
  'cylinder',
  'syringe',
] as const
const empty = () => ({
  kind: 'volumetric flask' as (typeof kinds)[number],
  volume: '',
  class: 'A' as 'A' | 'B',
  count: '1',
  mark: '',
  certified: '',
  certifiedLimits: '',
})
const draft = ref(empty())
const groups = computed(() =>
  kinds
    .map((kind) => ({ kind, glass: (list.value ?? []).filter((g) => g.item.kind === kind) }))
    .filter((group) => group.glass.length > 0),
)

const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/glass'))
}, ['setup'])

async function add() {
  const { kind, mark, class: grade, ...typed } = draft.value
  const done = await send(() => {
    const body = { kind, mark, class: grade, ...figures(typed, { certified: 0, certifiedLimits: 0 }) }
    return ask(api.POST('/glass', { body }))
  })
  if (done) draft.value = { ...empty(), kind }
}
const remove = (id: string) => send(() => ask(api.DELETE('/glass/{id}', { params: { path: { id } } })))
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="list?.length === 0" class="soft">
    No glass is listed: plans take any flask of ISO 1042. Once some is listed, they take only what is here.
  </p>
  <p v-if="mayChange && !adding"><el-button type="primary" @click="adding = true">Add glass</el-button></p>
  <form v-if="adding" class="setup-form" @submit.prevent="add">
    <h2>Add glass</h2>
    <SelectField v-model="draft.kind" label="Kind" :options="kinds.map((kind) => [kind, kind])" />
    <TextField v-model="draft.volume" label="Volume, mL" :problem="problem('/volume')" />
    <SelectField
      v-model="draft.class"
      label="Class"
      :options="[
        ['A', 'A'],
        ['B', 'B'],
      ]"
    />
    <TextField v-model="draft.count" label="How many" :problem="problem('/count')" />
    <TextField v-model="draft.mark" words label="Mark on the glass, if any" :problem="problem('/mark')" />
    <TextField v-model="draft.certified" label="Certified volume, mL" :problem="problem('/certified')" />
    <TextField
      v-model="draft.certifiedLimits"
      label="of the certificate ±, mL, k = 2"
      :problem="problem('/certifiedLimits')"
    />
    <p v-if="says && fields.size === 0" class="problem all" role="alert">{{ says }}</p>
    <div class="all">
      <el-button type="primary" native-type="submit" :disabled="busy">Add it</el-button>
      <el-button link @click="adding = false">Leave it</el-button>
    </div>
  </form>
  <div class="groups">
    <section v-for="group in groups" :key="group.kind">
      <h2>{{ group.kind.charAt(0).toUpperCase() + group.kind.slice(1) }}s, {{ group.glass[0]!.standard }}</h2>
      <table class="plain">
        <thead>
          <tr>
            <th class="r">mL</th>
            <th>Class</th>
            <th class="r">± mL</th>
            <th class="r">Number</th>
            <th>Certificate</th>
            <th v-if="mayChange"></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ id, item, tolerance } in group.glass" :key="id">
            <td class="figure r">{{ item.volume }}</td>
            <td>{{ item.class }}</td>
            <td class="figure r">{{ tolerance.toFixed(3) }}</td>
            <td class="figure r">{{ item.count }}</td>
            <td class="small">
              {{ item.mark
              }}<template v-if="item.certified"
                >: <span class="figure">{{ item.certified }} ± {{ item.certifiedLimits }} mL</span></template
              >
            </td>
            <td v-if="mayChange">
              <el-button
                link
                type="danger"
                :aria-label="`Take ${item.volume} mL ${item.kind} ${item.class} ${item.mark ?? ''} off the list`"
                @click="remove(id)"
                >Remove</el-button
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.groups {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(27rem, 100%), 1fr));
  gap: 0 2.5rem;
}
.r {
  text-align: right !important;
}
</style>
