<script setup lang="ts">
import './form.css'
import { ref, shallowRef } from 'vue'
import { api, ask, type LabMeter } from '@/api/client'
import { figures } from '@/api/figures'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'

const props = defineProps<{ mayChange: boolean }>()
const list = shallowRef<LabMeter[]>()
const opened = ref('')
const address = ref('')
const probe = ref('')
const { busy, says, problem, send } = useForm()
const changing = useForm()
const empty = () => ({
  name: '',
  probe: '',
  shows: 'mV' as 'mV' | 'pH',
  resolution: '0.1',
  repeatability: '0.3',
  thermometer: '0.5',
})
const draft = ref(empty())

const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/meters'))
}, ['setup', 'bench'])

async function add() {
  const { name, probe, shows, ...typed } = draft.value
  const body = { name, probe, ...(shows === 'pH' ? { showsPH: true } : {}), ...figures(typed) }
  if (await send(() => ask(api.POST('/meters', { body })))) draft.value = empty()
}

function open(m: LabMeter) {
  opened.value = opened.value === m.id ? '' : m.id
  address.value = m.address
  probe.value = m.meter.probe
}
const change = (id: string) =>
  changing.send(() =>
    ask(api.PUT('/meters/{id}', { params: { path: { id } }, body: { address: address.value, probe: probe.value } })),
  )
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="list?.length === 0" class="soft">No pH meter yet. The first one goes onto the bench.</p>
  <table v-if="list?.length" class="plain">
    <thead>
      <tr>
        <th>pH meter</th>
        <th>Probe</th>
        <th>Last digit</th>
        <th>Repeatability, mV</th>
        <th>Thermometer ±, °C</th>
        <th>Connected at</th>
        <th>Stands</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="m in list" :key="m.id">
        <tr>
          <td>{{ m.meter.name }}</td>
          <td>{{ m.meter.probe || '–' }}</td>
          <td class="figure">{{ m.meter.resolution }} {{ m.meter.showsPH ? 'pH' : 'mV' }}</td>
          <td class="figure">{{ m.meter.repeatability }}</td>
          <td class="figure">{{ m.meter.thermometer }}</td>
          <td class="figure small">{{ m.address || '–' }}</td>
          <td>{{ m.standing.word }}</td>
          <td>
            <el-button
              v-if="props.mayChange"
              link
              type="primary"
              :aria-expanded="opened === m.id"
              :aria-label="`Change ${m.meter.name}`"
              @click="open(m)"
              >{{ opened === m.id ? 'Close' : 'Change' }}</el-button
            >
          </td>
        </tr>
        <tr v-if="opened === m.id">
          <td colspan="8">
            <form class="change" @submit.prevent="change(m.id)">
              <TextField v-model="probe" words label="Probe that hangs on it" :problem="changing.problem('/probe')" />
              <TextField
                v-model="address"
                words
                label="Connected at host:port, empty when it is not"
                :problem="changing.problem('/address') || changing.says.value"
              />
              <el-button native-type="submit" :disabled="changing.busy.value">Keep this</el-button>
            </form>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <form v-if="mayChange" class="setup-form" @submit.prevent="add">
    <h2>Add a pH meter</h2>
    <p class="all small soft">
      A meter that shows mV tells more than one that shows pH alone. The figures stand in its data sheet; the ones here
      are usual.
    </p>
    <TextField v-model="draft.name" words label="Name" :problem="problem('/name')" />
    <TextField v-model="draft.probe" words label="Probe" :problem="problem('/probe')" />
    <SelectField
      v-model="draft.shows"
      label="It shows"
      :options="[
        ['mV', 'mV and pH'],
        ['pH', 'pH only'],
      ]"
    />
    <TextField v-model="draft.resolution" :label="`Last digit, ${draft.shows}`" :problem="problem('/resolution')" />
    <TextField v-model="draft.repeatability" label="Repeatability, mV" :problem="problem('/repeatability')" />
    <TextField v-model="draft.thermometer" label="Thermometer ±, °C" :problem="problem('/thermometer')" />
    <p v-if="says" class="problem all" role="alert">{{ says }}</p>
    <div class="all"><el-button type="primary" native-type="submit" :disabled="busy">Add it</el-button></div>
  </form>
</template>

<style scoped>
.change {
  display: grid;
  grid-template-columns: 14rem 22rem auto;
  gap: 1rem;
  align-items: center;
}
@media (max-width: 760px) {
  .change {
    grid-template-columns: 1fr;
  }
}
</style>
