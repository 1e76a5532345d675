<script setup lang="ts">
import './form.css'
import { ref } from 'vue'
import { api, ask, type LabPhotometer } from '@/api/client'
import { figures } from '@/api/figures'
import DependentsList from '@/bench/DependentsList.vue'
import ConnectForm from './ConnectForm.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'

const props = defineProps<{ mayChange: boolean }>()
const list = ref<LabPhotometer[]>()
const opened = ref('')
const { busy, says, problem, send } = useForm()
const empty = () => ({ name: '', low: '320', high: '1000', bandwidth: '5', strayLight: '0.05', resolution: '0.001' })
const draft = ref(empty())

const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/photometers'))
}, ['setup'])

async function add() {
  const { name, ...typed } = draft.value
  if (await send(() => ask(api.POST('/photometers', { body: { name, ...figures(typed) } })))) draft.value = empty()
}
const connect = (id: string, address: string) =>
  ask(api.PUT('/photometers/{id}/address', { params: { path: { id } }, body: { address } }))
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="list?.length === 0" class="soft">No photometer yet. Readings can be typed without one.</p>
  <table v-if="list?.length" class="plain">
    <thead>
      <tr>
        <th>Photometer</th>
        <th>Reaches, nm</th>
        <th>Bandwidth, nm</th>
        <th>Stray light, %</th>
        <th>Last digit, AU</th>
        <th>Connected at</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="{ id, photometer: p, address: at } in list" :key="id">
        <tr>
          <td>{{ p.name }}</td>
          <td class="figure">{{ p.low }} to {{ p.high }}</td>
          <td class="figure">{{ p.bandwidth }}</td>
          <td class="figure">{{ p.strayLight }}</td>
          <td class="figure">{{ p.resolution }}</td>
          <td class="figure small">{{ at || '–' }}</td>
          <td>
            <el-button
              link
              type="primary"
              :aria-expanded="opened === id"
              :aria-label="`Open ${p.name}`"
              @click="opened = opened === id ? '' : id"
              >{{ opened === id ? 'Close' : 'Open' }}</el-button
            >
          </td>
        </tr>
        <tr v-if="opened === id">
          <td colspan="7">
            <DependentsList :instrument="p.name" />
            <ConnectForm v-if="props.mayChange" :address="at" :keep="(address) => connect(id, address)" />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <form v-if="mayChange" class="setup-form" @submit.prevent="add">
    <h2>Add a photometer</h2>
    <p class="all small soft">The figures stand in its data sheet; the ones here are usual.</p>
    <TextField v-model="draft.name" words label="Name" :problem="problem('/name')" />
    <TextField v-model="draft.low" label="Reaches from, nm" :problem="problem('/low')" />
    <TextField v-model="draft.high" label="to, nm" :problem="problem('/high')" />
    <TextField v-model="draft.bandwidth" label="Bandwidth, nm" :problem="problem('/bandwidth')" />
    <TextField v-model="draft.strayLight" label="Stray light, %" :problem="problem('/strayLight')" />
    <TextField v-model="draft.resolution" label="Last digit, AU" :problem="problem('/resolution')" />
    <p v-if="says" class="problem all" role="alert">{{ says }}</p>
    <div class="all"><el-button type="primary" native-type="submit" :disabled="busy">Add it</el-button></div>
  </form>
</template>
