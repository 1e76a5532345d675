<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue'
import { api, ask, sentence, type NewFact, type Verdict } from '@/api/client'
import { vFirst } from './first'
import { useLive } from './live'
import VerdictLine from './VerdictLine.vue'

/** What the connected balance shows, taken with Enter once it stands. Taken before
 * that it asks first; a balance that is lost leaves the field for typing. */
type Taken = Pick<NewFact, 'quantity' | 'spread' | 'instrument'>

const props = defineProps<{ taring: boolean; busy?: boolean }>()
const emit = defineEmits<{ take: [reading: Taken]; type: [] }>()
const live = useLive()
const button = useTemplateRef<{ ref: HTMLElement }>('button')
const asking = ref<{ verdict: Verdict; taken: Taken }>()
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
      await ask(api.POST('/balances/{id}/tare', { params: { path: { id: live.balance!.id } } }))
    } catch (error) {
      says.value = sentence(error)
    }
    return
  }
  const taken: Taken = { quantity: { text: now.text }, instrument: live.balance?.name }
  if (now.still) emit('take', taken)
  else if (now.verdict)
    asking.value = {
      verdict: now.verdict,
      taken: { ...taken, spread: now.spread && { value: now.spread.value, unit: now.spread.unit } },
    }
}

watch(
  () => reading.value?.still,
  (still) => {
    if (still && asking.value) choose('wait-settled') // it stands by now: nothing is left to ask
  },
)

function choose(choice: string) {
  const taken = asking.value?.taken
  asking.value = undefined
  if (choice === 'take-moving' && taken) emit('take', taken)
  else button.value?.ref.focus()
}
</script>

<template>
  <div v-first class="live" role="group" :aria-label="`Balance ${live.balance?.name}`">
    <p class="small soft">
      {{ live.balance?.name }} shows <span v-if="reading?.standin">(a stand-in, simulated)</span>
    </p>
    <div class="line">
      <output class="figure value" :class="{ moving: !reading?.still }" aria-live="off">{{ shown }}</output>
      <span class="state" :class="reading?.still ? 'still' : 'moving'">
        <svg viewBox="0 0 12 12" aria-hidden="true">
          <circle v-if="reading?.still" cx="6" cy="6" r="4.5" />
          <path v-else d="M1 8 Q3.5 2 6 6 T11 4" />
        </svg>
        {{ state }}
      </span>
      <el-button ref="button" type="primary" :disabled="busy" @click="press">
        {{ tareFirst ? 'Tare it' : 'Take it' }} <kbd>Enter</kbd>
      </el-button>
    </div>
    <p v-if="says || reading?.says" class="problem small" role="alert">{{ says || reading?.says }}</p>
    <VerdictLine v-if="asking" :verdict="asking.verdict" autofocus @choose="choose" />
  </div>
</template>

<style scoped>
.live {
  margin: 0.4rem 0 0.8rem;
}
.live > p {
  margin: 0.2rem 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.4rem 1.2rem;
}
.value {
  font-size: 2.5rem;
  font-weight: 700;
  line-height: 1.15;
  min-width: 13ch;
  white-space: nowrap;
}
.value.moving {
  color: var(--ink-soft);
}
.state {
  display: inline-flex;
  align-items: center;
  gap: 0.35rem;
  min-width: 7rem;
}
.state svg {
  width: 0.9rem;
  fill: none;
  stroke-width: 2;
}
.state.still svg {
  fill: var(--green);
}
.state.moving {
  color: var(--amber);
}
.state.moving svg {
  stroke: var(--amber);
}
</style>
