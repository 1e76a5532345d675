<script setup lang="ts">
import './form.css'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, ProblemError, type LabSystem } from '@/api/client'
import { figure } from '@/api/figures'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import FormulaText from '@/design/FormulaText.vue'

/** The acid–base systems that buffers are made of: those of the library, and the lab's own. */
defineProps<{ mayChange: boolean }>()
const list = shallowRef<LabSystem[]>()
const search = ref('')
const { busy, says, fields, send, problem } = useForm()

const step = () => ({ pKa: '', u: '0.02', enthalpy: '', heatCapacity: '' })
const empty = () => ({ key: '', name: '', base: '', acid: '', constants: [step()], source: '' })
const draft = ref<ReturnType<typeof empty>>()
const most = 6

const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/systems'))
}, ['setup'])

const shown = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  return (list.value ?? []).filter((s) => !wanted || `${s.system.name} ${s.common}`.toLowerCase().includes(wanted))
})

function change({ system }: LabSystem) {
  const text = (x?: number) => (x === undefined ? '' : String(x))
  draft.value = {
    ...system,
    constants: system.constants.map((c) => ({
      pKa: text(c.pKa),
      u: text(c.u),
      enthalpy: text(c.enthalpy),
      heatCapacity: text(c.heatCapacity),
    })),
  }
}

/** The constants as they are sent; what is no number is a problem beside its field. */
function constants(d: ReturnType<typeof empty>) {
  const wrong = new Map<string, string>()
  const read = d.constants.map((c, i) => {
    const number = (field: keyof typeof c) => {
      const x = figure(c[field])
      if (Number.isNaN(x)) wrong.set(`/constants/${i}/${field}`, 'Write a number, like 4.76')
      return x
    }
    return {
      pKa: number('pKa'),
      u: number('u'),
      ...(c.enthalpy.trim() ? { enthalpy: number('enthalpy') } : {}),
      ...(c.heatCapacity.trim() ? { heatCapacity: number('heatCapacity') } : {}),
    }
  })
  if (wrong.size > 0) throw new ProblemError(422, 'Some of these are not numbers.', wrong)
  return read
}

async function keep(d: ReturnType<typeof empty>) {
  const done = await send(() => {
    const body = { name: d.name, base: d.base, acid: d.acid, constants: constants(d), source: d.source }
    return d.key
      ? ask(api.PUT('/systems/{id}', { params: { path: { id: d.key } }, body }))
      : ask(api.POST('/systems', { body }))
  })
  if (done) draft.value = undefined
}
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <div class="bar">
    <label class="small soft">Search <kbd>/</kbd><el-input v-model="search" data-search type="search" /></label>
    <el-button v-if="mayChange && !draft" type="primary" @click="draft = empty()">Add a system</el-button>
  </div>
  <form v-if="draft" class="setup-form" @submit.prevent="keep(draft)">
    <h2>{{ draft.key ? 'Correct a system of your own' : 'An acid–base system of your own' }}</h2>
    <TextField v-model="draft.name" words label="Acid" placeholder="salicylic acid" :problem="problem('/name')" />
    <TextField v-model="draft.base" words label="Its base" placeholder="salicylate" :problem="problem('/base')" />
    <TextField
      v-model="draft.acid"
      words
      label="Formula with all its protons"
      placeholder="C7H6O3"
      :problem="problem('/acid')"
    />
    <fieldset class="all">
      <legend>Constants at 25 °C and no ionic strength, the first proton first</legend>
      <p class="problem small">{{ problem('/constants') }}</p>
      <div v-for="(c, i) in draft.constants" :key="i" class="constant">
        <TextField v-model="c.pKa" :label="`pKa ${i + 1}`" :problem="problem(`/constants/${i}/pKa`)" />
        <TextField v-model="c.u" label="± (k = 1)" :problem="problem(`/constants/${i}/u`)" />
        <TextField v-model="c.enthalpy" label="Enthalpy, kJ/mol" :problem="problem(`/constants/${i}/enthalpy`)" />
        <TextField
          v-model="c.heatCapacity"
          label="Heat capacity, J/(mol·K)"
          :problem="problem(`/constants/${i}/heatCapacity`)"
        />
        <el-button
          v-if="draft.constants.length > 1"
          link
          :aria-label="`Take pKa ${i + 1} away`"
          @click="draft.constants.splice(i, 1)"
          >Take away</el-button
        >
      </div>
      <el-button v-if="draft.constants.length < most" link type="primary" @click="draft.constants.push(step())"
        >Another proton</el-button
      >
      <p class="small soft">Without an enthalpy the pKa is assumed to be that at 25 °C, whatever the temperature.</p>
    </fieldset>
    <TextField
      v-model="draft.source"
      words
      class="all"
      label="Source of these values"
      :max="300"
      placeholder="handbook, page …"
      :problem="problem('/source')"
    />
    <p v-if="says && fields.size === 0" class="problem all" role="alert">{{ says }}</p>
    <div class="all">
      <el-button type="primary" native-type="submit" :disabled="busy">{{
        draft.key ? 'Correct it' : 'Add it'
      }}</el-button>
      <el-button link @click="draft = undefined">Leave it</el-button>
    </div>
  </form>
  <p v-if="!list && !trouble" class="soft">Looking…</p>
  <p v-else-if="shown.length === 0" class="soft">No system of that name.</p>
  <table v-else class="plain">
    <thead>
      <tr>
        <th>System</th>
        <th>Forms</th>
        <th>pKa at 25 °C</th>
        <th>Source</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="s in shown" :key="s.system.key">
        <td class="text">
          {{ s.common }}<span v-if="s.own" class="small soft">, our own</span>
          <el-button
            v-if="s.own && mayChange"
            link
            type="primary"
            :aria-label="`Correct ${s.common}`"
            @click="change(s)"
            >Correct</el-button
          >
          <br /><span class="small soft">{{ s.system.unfit ?? '' }}</span>
        </td>
        <td>
          <template v-for="(form, i) in s.forms" :key="i"
            ><template v-if="i">, </template><FormulaText :pieces="form"
          /></template>
        </td>
        <td class="figure">
          <div v-for="(c, i) in s.system.constants" :key="i">
            {{ c.pKa }} <span class="soft">± {{ c.u }}</span>
          </div>
        </td>
        <td class="small source">{{ s.source }}</td>
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
fieldset {
  border: 0;
  padding: 0;
}
.constant {
  display: grid;
  grid-template-columns: repeat(4, minmax(7rem, 1fr)) 6rem;
  gap: 0 1rem;
  align-items: start;
  margin: 0.4rem 0;
}
.constant > .el-button {
  margin-top: 1.9rem;
}
.text {
  min-width: 10rem;
}
.source {
  min-width: 24rem;
}
@media (max-width: 760px) {
  .constant {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
