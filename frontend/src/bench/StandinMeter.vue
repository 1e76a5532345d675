<script lang="ts">
/** The meter whose stand-in follows the beaker at hand. It outlives the panel, which is gone
 * while a portion is added. */
const following = ref('')
</script>

<script setup lang="ts">
import './standin.css'
import { computed, onMounted, ref, watch } from 'vue'
import { api, ask, sentence, type Step } from '@/api/client'
import { useLive } from './live'

/** Does by hand to a stand-in pH meter what happens to a real one at a bench. */
interface Hand {
  into?: string
  do?: 'RINSE' | 'AIR'
  bulb?: 'WET' | 'DRY'
  slope?: number
  time?: number
  drift?: number
  link?: 'ON' | 'OFF'
}
interface State {
  in: string
  celsius: number
  rinsed: boolean
  bulb: string
  slope: number
  time: number
  drift: number
  link: string
}

/** What stands in front of the person, as the run sheet calculates it. */
const props = defineProps<{ beaker?: Step['stands'] }>()
const live = useLive()
const follows = computed(() => following.value !== '' && following.value === live.instrument?.id)
const state = ref<State>()
const says = ref('')
const pH = ref('7.2')
const celsius = ref('21.4')

async function hand(body: Hand) {
  if (body.into || body.do) following.value = ''
  const id = live.instrument?.id
  if (!id) return
  says.value = ''
  try {
    state.value = await ask(api.POST('/meters/{id}/standin', { params: { path: { id } }, body }))
  } catch (error) {
    says.value = sentence(error)
  }
}
onMounted(() => (follows.value ? intoBeaker() : hand({})))

async function intoBeaker() {
  const { pH, celsius } = props.beaker ?? {}
  if (pH === undefined || celsius === undefined) return
  await hand({ into: `${pH.toFixed(3)} ${celsius.toFixed(1)}` })
  following.value = live.instrument?.id ?? ''
}
watch(
  () => props.beaker?.pH,
  (now, before) => {
    if (follows.value && now !== undefined && now !== before) void intoBeaker()
  },
)

const into = (what: string) => hand({ into: `${what} ${celsius.value.replace(',', '.')}` })
const solutions: [label: string, key: string][] = [
  ['Phthalate', 'phthalate'],
  ['Phosphate', 'phosphate'],
  ['Borax', 'borax'],
  ['Tap water', 'tap'],
  ['Deionised water', 'deionised'],
]
</script>

<template>
  <details class="standin no-print">
    <summary>Stand-in probe, by hand</summary>
    <p v-if="state" class="small soft">
      In {{ state.in }} at {{ state.celsius }} °C{{ state.rinsed ? ', rinsed' : ', not rinsed since' }}; bulb
      {{ state.bulb }}{{ state.drift ? ', drifting' : '' }}{{ state.link === 'off' ? ', cable out' : '' }}
    </p>
    <el-button size="small" type="primary" plain @click="hand({ do: 'RINSE' })">Rinse and blot</el-button>
    <el-button v-if="beaker" size="small" :aria-pressed="follows" @click="intoBeaker"
      >Into the beaker at hand</el-button
    >
    <form @submit.prevent="into(pH.replace(',', '.'))">
      <label>A solution of pH<el-input v-model="pH" class="figure" maxlength="6" inputmode="decimal" /></label>
      <label>at °C<el-input v-model="celsius" class="figure" maxlength="5" inputmode="decimal" /></label>
      <el-button native-type="submit">Dip it in</el-button>
    </form>
    <div class="row">
      <el-button v-for="[label, key] in solutions" :key="key" size="small" @click="into(key)">{{ label }}</el-button>
      <el-button size="small" @click="hand({ do: 'AIR' })">Out of it</el-button>
    </div>
    <div v-if="state" class="row">
      <el-button size="small" @click="hand({ bulb: state.bulb === 'dry' ? 'WET' : 'DRY' })">
        {{ state.bulb === 'dry' ? 'Soak the bulb' : 'Let the bulb dry out' }}
      </el-button>
      <el-button size="small" @click="hand({ drift: state.drift ? 0 : 120 })">
        {{ state.drift ? 'No drift' : 'Let it drift' }}
      </el-button>
      <el-button size="small" @click="hand({ link: state.link === 'off' ? 'ON' : 'OFF' })">
        {{ state.link === 'off' ? 'Plug the cable in' : 'Pull the cable' }}
      </el-button>
    </div>
    <p v-if="says" class="problem small" role="alert">{{ says }}</p>
  </details>
</template>
