<script setup lang="ts">
import './form.css'
import { ref, shallowRef } from 'vue'
import { api, ask, type LabBalance } from '@/api/client'
import { figures } from '@/api/figures'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import { when } from '@/design/time'
import BalanceChecks from './BalanceChecks.vue'
import DependentsList from '@/bench/DependentsList.vue'
import ConnectForm from './ConnectForm.vue'

const props = defineProps<{ mayChange: boolean }>()
const list = shallowRef<LabBalance[]>()
const opened = ref('')
const { busy, says, send } = useForm()
const empty = () => ({ name: '', capacity: '220', resolution: '0.0001', repeatability: '0.0001', linearity: '0.0002' })
const draft = ref(empty())

const { trouble } = useLook(async () => {
  list.value = await ask(api.GET('/balances'))
}, ['setup', 'bench'])

async function add() {
  const { name, ...typed } = draft.value
  if (await send(() => ask(api.POST('/balances', { body: { name, ...figures(typed) } })))) draft.value = empty()
}

function open(b: LabBalance) {
  opened.value = opened.value === b.id ? '' : b.id
}
const connect = (id: string, address: string) =>
  ask(api.PUT('/balances/{id}/address', { params: { path: { id } }, body: { address } }))
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="list?.length === 0" class="soft">No balance yet. The first one goes onto the bench.</p>
  <table v-if="list?.length" class="plain">
    <thead>
      <tr>
        <th>Balance</th>
        <th>Up to, g</th>
        <th>Last digit, g</th>
        <th>Repeatability, g</th>
        <th>Linearity ±, g</th>
        <th>Connected at</th>
        <th>Last check</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="b in list" :key="b.id">
        <tr>
          <td>{{ b.balance.name }}</td>
          <td class="figure">{{ b.balance.capacity }}</td>
          <td class="figure">{{ b.balance.resolution }}</td>
          <td class="figure">{{ b.balance.repeatability }}</td>
          <td class="figure">{{ b.balance.linearity }}</td>
          <td class="figure small">{{ b.address || '–' }}</td>
          <td :class="{ failed: b.lastCheck && !b.lastCheck.passed }">
            {{ b.lastCheck ? `${b.lastCheck.passed ? 'passed' : 'failed'}, ${when(b.lastCheck.at)}` : 'none yet' }}
          </td>
          <td>
            <el-button
              link
              type="primary"
              :aria-expanded="opened === b.id"
              :aria-label="`Check ${b.balance.name}`"
              @click="open(b)"
              >{{ opened === b.id ? 'Close' : 'Check it' }}</el-button
            >
          </td>
        </tr>
        <tr v-if="opened === b.id">
          <td colspan="8">
            <BalanceChecks :balance="b" />
            <DependentsList :instrument="b.balance.name" />
            <ConnectForm v-if="props.mayChange" :address="b.address" :keep="(address) => connect(b.id, address)" />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <form v-if="mayChange" class="setup-form" @submit.prevent="add">
    <h2>Add a balance</h2>
    <p class="all small soft">The figures stand in its data sheet or on the sheet of its last check.</p>
    <label>Name<el-input v-model="draft.name" required maxlength="60" /></label>
    <label>Weighs up to, g<el-input v-model="draft.capacity" required inputmode="decimal" /></label>
    <label>Last digit, g<el-input v-model="draft.resolution" required inputmode="decimal" /></label>
    <label>Repeatability, g<el-input v-model="draft.repeatability" required inputmode="decimal" /></label>
    <label>Linearity ±, g<el-input v-model="draft.linearity" required inputmode="decimal" /></label>
    <p v-if="says" class="problem all" role="alert">{{ says }}</p>
    <div class="all"><el-button type="primary" native-type="submit" :disabled="busy">Add it</el-button></div>
  </form>
</template>

<style scoped>
.failed {
  color: var(--red);
  font-weight: 700;
}
</style>
