<script setup lang="ts">
import './standin.css'
import { onMounted, ref } from 'vue'
import { figure } from '@/api/figures'
import { api, ask, sentence } from '@/api/client'
import type { components } from '@/api/schema'
import SelectField from './SelectField.vue'
import { useLive } from './live'

/** Does by hand to a stand-in photometer what happens to a real one at a bench. */
type Command = components['schemas']['PhotometerCommand']

/** What is in the cell of the step at hand, mol/L, as calculated. */
const props = defineProps<{ molar?: number }>()
const live = useLive()
const state = ref<components['schemas']['StandinPhotometer']>()
const says = ref('')
const substance = ref('molybdate-blue')
const strength = ref('1e-5')

async function hand(body: Command) {
  const id = live.instrument?.id
  if (!id) return
  says.value = ''
  try {
    state.value = await ask(api.POST('/photometers/{id}/standin', { params: { path: { id } }, body }))
  } catch (error) {
    says.value = sentence(error)
  }
}
onMounted(() => hand({}))

const fill = (molar: number) => hand({ into: `${substance.value} ${molar}` })
function pour() {
  const molar = figure(strength.value)
  if (Number.isNaN(molar)) says.value = 'Write a concentration in mol/L, like 1e-5'
  else void fill(molar)
}
const switched = (what: 'fingerprint' | 'bubble' | 'link') =>
  hand({ [what]: state.value?.[what] === 'on' ? 'OFF' : 'ON' })
</script>

<template>
  <details class="standin no-print">
    <summary>Stand-in photometer, by hand</summary>
    <p v-if="state" class="small soft">
      In the cell: {{ state.in }}{{ state.molar ? `, ${state.molar} mol/L` : ''
      }}{{ state.cell === 'turned' ? ', turned round' : ''
      }}{{ state.fingerprint === 'on' ? ', a fingerprint on it' : ''
      }}{{ state.bubble === 'on' ? ', a bubble in it' : '' }}{{ state.drift ? ', lamp drifting' : ''
      }}{{ state.link === 'off' ? ', cable out' : '' }}
    </p>
    <SelectField
      v-if="state"
      v-model="substance"
      label="What colours it"
      :options="state.coloured.map((c) => [c.key, c.name] as const)"
    />
    <div class="row">
      <el-button size="small" @click="hand({ into: 'water' })">The blank in</el-button>
      <el-button v-if="props.molar !== undefined" size="small" @click="fill(props.molar)"
        >The tube at hand in</el-button
      >
    </div>
    <form @submit.prevent="pour">
      <label
        >Or so strong, mol/L<el-input v-model="strength" class="figure" maxlength="12" inputmode="decimal"
      /></label>
      <el-button native-type="submit">Fill the cell</el-button>
    </form>
    <div v-if="state" class="row">
      <el-button size="small" @click="hand({ cell: state.cell === 'turned' ? 'RIGHT' : 'TURNED' })">
        {{ state.cell === 'turned' ? 'Turn it back' : 'Turn the cell round' }}
      </el-button>
      <el-button size="small" @click="switched('fingerprint')">
        {{ state.fingerprint === 'on' ? 'Wipe it' : 'A fingerprint' }}
      </el-button>
      <el-button size="small" @click="switched('bubble')">
        {{ state.bubble === 'on' ? 'Tap the bubble off' : 'A bubble' }}
      </el-button>
      <el-button size="small" @click="hand({ drift: state.drift ? 0 : 0.5 })">
        {{ state.drift ? 'Lamp steady' : 'Let the lamp drift' }}
      </el-button>
      <el-button size="small" @click="switched('link')">
        {{ state.link === 'off' ? 'Plug the cable in' : 'Pull the cable' }}
      </el-button>
    </div>
    <p v-if="says" class="problem small" role="alert">{{ says }}</p>
  </details>
</template>
