<script setup lang="ts">
import './live.css'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { api, ask, sentence, type NewFact } from '@/api/client'
import { vFirst } from './first'
import { useLive } from './live'
import LiveState from './LiveState.vue'
import { useTaking } from './useTaking'
import VerdictLine from './VerdictLine.vue'

/** What the connected photometer shows, taken with Enter once it stands at the wavelength of the step. A step that sets the
 * blank does so first. */
type Taken = Pick<NewFact, 'quantity' | 'beside' | 'spread' | 'instrument'>

const props = defineProps<{ nm: number; zeroing: boolean; busy?: boolean }>()
const emit = defineEmits<{ take: [reading: Taken]; type: [] }>()
const live = useLive()
const button = useTemplateRef<{ ref: HTMLElement }>('button')
const { asking, offer, choose } = useTaking(
  (taken) => emit('take', taken),
  () => button.value?.ref.focus(),
)
const says = ref('')
const setting = ref(false)
/** The blank was set while this step was at hand. */
const zeroed = ref(false)

const reading = computed(() => live.reading)
const shown = computed(() => reading.value?.text.replace(' ', ' ') || '– – –')
const at = computed(() => reading.value?.readings.find((r) => r.unit === 'nm')?.value)
/** The wheel stands elsewhere. */
const elsewhere = computed(() => at.value !== undefined && Math.abs(at.value - props.nm) > 0.6)
const zeroFirst = computed(() => props.zeroing && !zeroed.value)
const state = computed(() => {
  const now = reading.value
  if (!now) return 'connecting…'
  if (now.state === 'lost') return 'no reading'
  if (now.state === 'overload') return 'no light'
  return now.still ? 'stands' : 'still moves'
})
const does = computed(() => {
  if (elsewhere.value) return `Set ${props.nm} nm`
  return zeroFirst.value ? 'Set the blank to zero' : 'Take it'
})

async function carryOut(what: () => Promise<unknown>) {
  says.value = ''
  setting.value = true
  try {
    await what()
  } catch (error) {
    says.value = sentence(error)
  } finally {
    setting.value = false
    await nextTick() // a button that cannot be pressed cannot be focused
    button.value?.ref.focus()
  }
}
defineExpose({ focus: () => button.value?.ref.focus() })
const path = () => ({ params: { path: { id: live.instrument!.id } } })
const zero = () =>
  carryOut(async () => {
    await ask(api.POST('/photometers/{id}/zero', { ...path(), body: {} }))
    zeroed.value = true
  })

function press() {
  const now = reading.value
  says.value = ''
  if (!now?.text && now?.state !== 'overload') return emit('type')
  if (elsewhere.value)
    return carryOut(() => ask(api.POST('/photometers/{id}/wavelength', { ...path(), body: { nm: props.nm } })))
  if (zeroFirst.value) return zero()
  if (now.text)
    offer({
      quantity: { text: now.text },
      ...(at.value === undefined ? {} : { beside: [{ text: `${at.value} nm` }] }),
      instrument: live.instrument?.name,
    })
}
</script>

<template>
  <div v-first class="live" role="group" :aria-label="`Photometer ${live.instrument?.name}`">
    <p class="small soft">
      {{ live.instrument?.name }} shows{{ reading?.standin ? ' (a stand-in, simulated)' : '' }}
      <template v-if="at !== undefined">
        at <b class="figure" :class="{ off: elsewhere }">{{ at }} nm</b>
      </template>
    </p>
    <div class="line">
      <output class="figure value" :class="{ moving: !reading?.still }" aria-live="off">{{ shown }}</output>
      <LiveState :still="reading?.still" :word="state" />
      <el-button ref="button" type="primary" :disabled="busy || setting" @click="press">
        {{ does }} <kbd>Enter</kbd>
      </el-button>
      <el-button
        v-if="!elsewhere && !zeroFirst"
        link
        type="primary"
        :disabled="busy || setting || !reading?.text"
        @click="zero"
        >Set zero</el-button
      >
    </div>
    <p v-if="zeroFirst" class="small">The blank has to be in the beam.</p>
    <p v-if="says || reading?.says" class="problem small" role="alert">{{ says || reading?.says }}</p>
    <VerdictLine v-if="asking" :verdict="asking.verdict" autofocus @choose="choose" />
  </div>
</template>

<style scoped>
.value {
  min-width: 10ch;
}
.off {
  color: var(--red);
}
</style>
