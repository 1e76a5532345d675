<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, nextTick, ref, useId, useTemplateRef, watch } from 'vue'
import { api, ask, ProblemError, sentence, type QuantityQuestion } from '@/api/client'
import { takeFocus } from './first'

type Dimension = QuantityQuestion['dimensions'][number]

/** A figure is read when the hand rests, in ms; not at each of its digits. */
const pause = 120

/** Takes a quantity as people type it, shows how it was understood, and refuses
 * nonsense with what would be right. Enter records, and waits for nothing: who takes the
 * text reads it too. Esc restores; the arrows step the last digit. */
const props = defineProps<{
  label: string
  dimensions: Dimension[]
  unit: string
  initial?: string
  big?: boolean
  autofocus?: boolean
  /** A problem that the server found. */
  problem?: string
}>()
const text = defineModel<string>({ required: true })
const emit = defineEmits<{ record: [text: string] }>()

const id = useId()
const input = useTemplateRef<HTMLInputElement>('input')
const understood = ref('')
const wrong = ref('')
/** The text that what is understood, or wrong, is about. */
let known = ''
/** The text that the server's problem is about; once it changes the problem is past. */
const faulted = ref(text.value)
watch(
  () => props.problem,
  () => (faulted.value = text.value),
)
const hasUnit = computed(() => /[a-zµ%°]/i.test(text.value))
const shown = computed(() => wrong.value || (text.value === faulted.value && props.problem) || '')

async function read() {
  const asked = text.value
  if (asked.trim() === '') {
    understood.value = wrong.value = ''
    known = asked
    return
  }
  try {
    const answer = await ask(
      api.POST('/compute/quantity', {
        body: { text: asked.slice(0, 9999), unit: props.unit, dimensions: props.dimensions },
      }),
    )
    if (asked !== text.value) return
    understood.value = answer.understood
    wrong.value = ''
    known = asked
  } catch (error) {
    if (asked !== text.value) return
    understood.value = ''
    // Without a network the text is taken as it is; the server reads it later.
    wrong.value = error instanceof ProblemError && error.status === 422 ? sentence(error) : ''
    known = asked
  }
}
watchDebounced(text, read, { debounce: pause })

function record() {
  if (wrong.value === '' || known !== text.value) emit('record', text.value)
}

function step(direction: number) {
  const match = /^(\s*[-−]?\d+(?:([.,])(\d+))?)(.*)$/.exec(text.value)
  if (!match) return
  const decimals = match[3]?.length ?? 0
  const value = Number(match[1]!.replace(',', '.').replace('−', '-')) + direction / 10 ** decimals
  text.value = value.toFixed(decimals).replace('.', match[2] ?? '.') + match[4]
}

function restore() {
  text.value = props.initial ?? ''
  void nextTick(() => input.value?.select())
}

defineExpose({ focus: () => input.value?.focus() })
const vFocus = {
  mounted: (el: HTMLInputElement) => {
    if (props.autofocus) takeFocus(el)
  },
}
</script>

<template>
  <div class="quantity" :class="{ big, wrong: shown }">
    <label :for="id">{{ label }}</label>
    <div class="box">
      <input
        :id="id"
        ref="input"
        v-model="text"
        v-focus
        autocomplete="off"
        spellcheck="false"
        :inputmode="big ? 'decimal' : 'text'"
        :aria-invalid="shown !== ''"
        :aria-describedby="`${id}-says`"
        @keydown.enter.exact.prevent="record"
        @keydown.esc.prevent="restore"
        @keydown.up.prevent="step(1)"
        @keydown.down.prevent="step(-1)"
      />
      <span v-if="!hasUnit" class="unit" aria-hidden="true">{{ unit }}</span>
    </div>
    <p :id="`${id}-says`" class="says" role="status">
      <span v-if="shown" class="problem">{{ shown }}</span>
      <span v-else-if="understood" class="soft">= {{ understood }}</span>
    </p>
  </div>
</template>

<style scoped>
.box {
  display: flex;
  align-items: baseline;
  border: 1px solid var(--line-strong);
  border-radius: 3px;
  background: var(--sheet);
  padding: 0 0.7rem;
  min-height: 40px;
}
.box:focus-within {
  outline: 3px solid var(--green);
  outline-offset: 1px;
}
.wrong .box {
  border-color: var(--red);
}
input {
  flex: 1;
  min-width: 0;
  border: 0;
  background: none;
  font-family: var(--mono);
  font-size: 1rem;
  padding: 0;
  min-height: 38px;
  color: var(--ink);
  outline: none;
}
.unit {
  font-family: var(--mono);
  color: var(--ink-soft);
  padding-left: 0.5rem;
}
.big .box {
  border: 2px solid var(--ink);
  max-width: 20rem;
}
.big input {
  font-size: 2.5rem;
  padding: 0.2rem 0;
}
.big .unit {
  font-size: 1.6rem;
}
.says {
  min-height: 1.4em;
  margin: 0.15rem 0 0;
  font-size: 0.87rem;
}
</style>
