<script setup lang="ts">
import './standin.css'
import { onMounted, ref } from 'vue'
import { figure } from '@/api/figures'
import { api, ask, sentence } from '@/api/client'
import { useLive } from './live'

/** Does by hand to a stand-in balance what happens to a real one at a bench. */
type Command = NonNullable<Parameters<typeof hand>[0]>

const live = useLive()
const state = ref<{ pan: number; door: string; draught: string; drift: number; link: string }>()
const says = ref('')
const amount = ref('5.1056')

async function hand(body: {
  pan?: number
  add?: number
  drift?: number
  door?: 'OPEN' | 'CLOSED'
  draught?: 'ON' | 'OFF'
  link?: 'ON' | 'OFF'
}) {
  const id = live.instrument?.id
  if (!id) return
  says.value = ''
  try {
    state.value = await ask(api.POST('/balances/{id}/standin', { params: { path: { id } }, body }))
  } catch (error) {
    says.value = sentence(error)
  }
}
onMounted(() => hand({}))

function pour() {
  const grams = figure(amount.value)
  if (Number.isNaN(grams)) says.value = 'Write a mass in g, like 5.1056'
  else void hand({ add: grams })
}
const portions: { label: string; command: Command }[] = [
  { label: 'A vessel on', command: { pan: 31.4159 } },
  { label: '+ 0.5 g', command: { add: 0.5 } },
  { label: '+ 0.01 g', command: { add: 0.01 } },
  { label: '− 0.05 g', command: { add: -0.05 } },
  { label: 'Pan empty', command: { pan: 0 } },
]
</script>

<template>
  <details class="standin no-print">
    <summary>Stand-in balance, by hand</summary>
    <p v-if="state" class="small soft">
      {{ state.pan.toFixed(4) }} g on the pan in all, door {{ state.door
      }}{{ state.draught === 'on' ? ', in a draught' : '' }}{{ state.drift ? ', drifting' : ''
      }}{{ state.link === 'off' ? ', cable out' : '' }}
    </p>
    <form @submit.prevent="pour">
      <label>Pour on, g<el-input v-model="amount" class="figure" maxlength="12" inputmode="decimal" /></label>
      <el-button native-type="submit">Pour</el-button>
    </form>
    <div class="row">
      <el-button v-for="p in portions" :key="p.label" size="small" @click="hand(p.command)">{{ p.label }}</el-button>
    </div>
    <div v-if="state" class="row">
      <el-button size="small" @click="hand({ door: state.door === 'open' ? 'CLOSED' : 'OPEN' })">
        {{ state.door === 'open' ? 'Close the door' : 'Open the door' }}
      </el-button>
      <el-button size="small" @click="hand({ draught: state.draught === 'on' ? 'OFF' : 'ON' })">
        {{ state.draught === 'on' ? 'No draught' : 'A draught' }}
      </el-button>
      <el-button size="small" @click="hand({ drift: state.drift ? 0 : 30 })">
        {{ state.drift ? 'No drift' : 'Let it drift' }}
      </el-button>
      <el-button size="small" @click="hand({ link: state.link === 'off' ? 'ON' : 'OFF' })">
        {{ state.link === 'off' ? 'Plug the cable in' : 'Pull the cable' }}
      </el-button>
    </div>
    <p v-if="says" class="problem small" role="alert">{{ says }}</p>
  </details>
</template>
