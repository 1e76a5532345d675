<script setup lang="ts">
import './live.css'
import { computed, ref, useTemplateRef } from 'vue'
import { api, ask, sentence, type NewFact } from '@/api/client'
import { vFirst } from './first'
import { useLive } from './live'
import LiveState from './LiveState.vue'
import { useTaking } from './useTaking'
import VerdictLine from './VerdictLine.vue'

/** What the connected balance shows, taken with Enter once it stands. Taken before
 * that it asks first; a balance that is lost leaves the field for typing. */
type Taken = Pick<NewFact, 'quantity' | 'spread' | 'instrument'>

const props = defineProps<{ taring: boolean; busy?: boolean }>()
const emit = defineEmits<{ take: [reading: Taken]; type: [] }>()
const live = useLive()
const button = useTemplateRef<{ ref: HTMLElement }>('button')
const { asking, offer, choose } = useTaking(
  (taken) => emit('take', taken),
  () => button.value?.ref.focus(),
)
const says = ref('')

const reading = computed(() => live.reading)
const shown = computed(() => reading.value?.text.replace(' ', ' ') || '– – –')
/** A pan that does not show zero is tared first. */
const tareFirst = computed(() => props.taring && Math.abs(live.value ?? 0) > 0.01)
const state = computed(() => {
  const now = reading.value
  if (!now) return 'connecting…'
  if (now.state === 'lost') return 'no reading'
  if (now.state === 'overload' || now.state === 'underload') return now.state
  return now.still ? 'stands' : 'still moves'
})

async function press() {
  const now = reading.value
  says.value = ''
  if (!now?.text) return emit('type')
  if (tareFirst.value) {
    try {
      await ask(api.POST('/balances/{id}/tare', { params: { path: { id: live.instrument!.id } } }))
    } catch (error) {
      says.value = sentence(error)
    }
    return
  }
  offer({ quantity: { text: now.text }, instrument: live.instrument?.name })
}
</script>

<template>
  <div v-first class="live" role="group" :aria-label="`Balance ${live.instrument?.name}`">
    <p class="small soft">
      {{ live.instrument?.name }} shows <span v-if="reading?.standin">(a stand-in, simulated)</span>
    </p>
    <div class="line">
      <output class="figure value" :class="{ moving: !reading?.still }" aria-live="off">{{ shown }}</output>
      <LiveState :still="reading?.still" :word="state" />
      <el-button ref="button" type="primary" :disabled="busy" @click="press">
        {{ tareFirst ? 'Tare it' : 'Take it' }} <kbd>Enter</kbd>
      </el-button>
    </div>
    <p v-if="says || reading?.says" class="problem small" role="alert">{{ says || reading?.says }}</p>
    <VerdictLine v-if="asking" :verdict="asking.verdict" autofocus @choose="choose" />
  </div>
</template>

<style scoped>
.value {
  min-width: 13ch;
}
</style>
