<script setup lang="ts">
import { defineAsyncComponent, nextTick, ref, shallowRef, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, sentence, type LabBalance, type LabMeter, type LabSessionLine } from '@/api/client'
import { useSession } from '@/api/session'
import { useBench } from './bench'
import QuantityField from './QuantityField.vue'
import { when } from '@/design/time'
import { useLook } from './useLook'

/** One line on top: what is on, and what every computation takes from the bench.
 * Each part is changed in its place. */
const OwnPassword = defineAsyncComponent(() => import('@/areas/account/OwnPassword.vue'))
const OwnSessions = defineAsyncComponent(() => import('@/areas/account/OwnSessions.vue'))

const bench = useBench()
const session = useSession()
const router = useRouter()
const editing = ref<'' | 'session' | 'water' | 'balance' | 'meter' | 'who'>('')
const draft = ref('')
const balances = shallowRef<LabBalance[]>([])
const meters = shallowRef<LabMeter[]>([])
const sessions = ref<LabSessionLine[]>([])
const panel = useTemplateRef<HTMLElement>('panel')

const { trouble: says, look } = useLook(async () => {
  await bench.look()
}, ['bench', 'setup', 'calibration', 'readings'])

async function open(part: typeof editing.value) {
  says.value = ''
  editing.value = editing.value === part ? '' : part
  if (editing.value === 'session') {
    draft.value = bench.bench?.session ?? ''
    sessions.value = (await ask(api.GET('/lab-sessions')).catch(() => [])).slice(0, 6)
  }
  if (editing.value === 'water') draft.value = (bench.bench?.waterTemperature ?? 20).toFixed(1)
  if (editing.value === 'balance') balances.value = await ask(api.GET('/balances'))
  if (editing.value === 'meter') meters.value = await ask(api.GET('/meters'))
  await nextTick()
  panel.value?.querySelector<HTMLElement>('input, button')?.focus()
}

async function change(to: Parameters<typeof bench.change>[0]) {
  try {
    await bench.change(to)
    editing.value = ''
  } catch (error) {
    const problem = sentence(error)
    await look()
    says.value = problem
  }
}

async function changeWater(text: string) {
  try {
    const { quantity } = await ask(
      api.POST('/compute/quantity', { body: { text, unit: '°C', dimensions: ['temperature'] } }),
    )
    await change({ waterTemperature: quantity.value })
  } catch (error) {
    says.value = sentence(error)
  }
}

async function leave() {
  await session.signOut()
  await router.push('/today')
}
const digits = (resolution: number) =>
  resolution < 0.1 ? `${Number((resolution * 1000).toPrecision(3))} mg` : `${resolution} g`
</script>

<template>
  <header class="strip">
    <button type="button" :aria-expanded="editing === 'session'" @click="open('session')">
      <small>Session</small><strong>{{ bench.bench?.session || 'none named' }}</strong>
    </button>
    <button type="button" :aria-expanded="editing === 'water'" @click="open('water')">
      <small>Water</small><strong>{{ bench.bench ? `${bench.bench.waterTemperature.toFixed(1)} °C` : '…' }}</strong>
    </button>
    <button type="button" :aria-expanded="editing === 'balance'" @click="open('balance')">
      <small>Balance</small
      ><strong
        >{{
          bench.bench?.balance
            ? `${bench.bench.balance.balance.name} ${digits(bench.bench.balance.balance.resolution)}`
            : 'none on the bench'
        }}<span v-if="bench.bench?.balance?.lastCheck?.passed === false" class="failed"
          >, failed its check</span
        ></strong
      >
    </button>
    <button
      v-if="bench.bench?.meter"
      type="button"
      :aria-expanded="editing === 'meter'"
      :class="bench.bench.meter.standing.verdict.level"
      @click="open('meter')"
    >
      <small>pH meter</small
      ><strong
        >{{ bench.bench.meter.meter.name }}<span class="standing">, {{ bench.bench.meter.standing.word }}</span></strong
      >
    </button>
    <button type="button" class="who" :aria-expanded="editing === 'who'" @click="open('who')">
      <small>On the record</small><strong>{{ session.account?.initials }} · {{ session.account?.name }}</strong>
    </button>
    <div v-if="editing || says" ref="panel" class="panel" @keydown.esc.stop="editing = ''">
      <form v-if="editing === 'session'" @submit.prevent="change({ session: draft })">
        <p v-if="sessions.length" class="choose">
          <el-button v-for="s in sessions" :key="s.id" @click="change({ session: s.title })"
            >{{ s.title }}, {{ when(s.starts) }}</el-button
          >
        </p>
        <label>Session or task<el-input v-model="draft" maxlength="120" /></label>
        <el-button type="primary" native-type="submit">Put it on <kbd>Enter</kbd></el-button>
      </form>
      <QuantityField
        v-else-if="editing === 'water'"
        v-model="draft"
        label="Temperature of the water, Enter records"
        :dimensions="['temperature']"
        unit="°C"
        @record="changeWater"
      />
      <template v-else-if="editing === 'balance'">
        <p v-if="balances.length === 0">No balance yet: add one in the lab setup.</p>
        <el-button
          v-for="b in balances"
          :key="b.id"
          :type="b.id === bench.bench?.balance?.id ? 'primary' : undefined"
          @click="change({ balanceId: b.id })"
          >{{ b.balance.name }}, {{ digits(b.balance.resolution) }}, up to {{ b.balance.capacity }} g</el-button
        >
      </template>
      <template v-else-if="editing === 'meter'">
        <el-button
          v-for="m in meters"
          :key="m.id"
          :type="m.id === bench.bench?.meter?.id ? 'primary' : undefined"
          @click="change({ meterId: m.id })"
          >{{ m.meter.name }}, {{ m.standing.word }}</el-button
        >
      </template>
      <template v-else-if="editing === 'who'">
        <el-button @click="leave">Sign out</el-button>
        <OwnPassword @done="editing = ''" />
        <OwnSessions />
      </template>
      <p v-if="says" class="problem" role="alert">{{ says }}</p>
      <el-button v-if="!editing" link @click="says = ''">Close</el-button>
    </div>
  </header>
</template>

<style scoped>
.strip {
  display: flex;
  align-items: stretch;
  border-bottom: 1px solid var(--line);
  background: var(--sheet);
  position: sticky;
  top: 0;
  z-index: 10;
  min-width: 0;
}
.strip > button {
  font: inherit;
  background: none;
  border: 0;
  border-right: 1px solid var(--line);
  text-align: left;
  padding: 0.2rem 1.2rem;
  line-height: 1.25;
  color: var(--ink);
  cursor: pointer;
  min-width: 0;
  white-space: nowrap;
  overflow: hidden;
}
.strip > button:hover strong {
  text-decoration: underline;
}
.strip > button:focus-visible {
  outline-offset: -3px;
}
small {
  display: block;
  color: var(--ink-soft);
  font-size: 0.78rem;
}
strong {
  display: block;
  font-size: 0.92rem;
  overflow: hidden;
  text-overflow: ellipsis;
}
.failed {
  color: var(--red);
}
.look .standing {
  color: var(--amber);
}
.stop .standing {
  color: var(--red);
}
.who {
  margin-left: auto;
  border-left: 1px solid var(--line);
}
.panel {
  position: absolute;
  top: 100%;
  left: 1rem;
  right: 1rem;
  max-width: 40rem;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  padding: 0.9rem 1.1rem;
  z-index: 20;
  display: flex;
  flex-wrap: wrap;
  gap: 0.7rem;
  align-items: end;
}
form {
  display: flex;
  gap: 0.7rem;
  align-items: end;
}
/* On a phone the strip is pushed along, and its names are whole. */
@media (max-width: 760px) {
  .strip {
    overflow-x: auto;
  }
  .strip > button {
    flex: none;
  }
}
</style>
