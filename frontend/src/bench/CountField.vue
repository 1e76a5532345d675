<script setup lang="ts">
import { ref, useId } from 'vue'
import { takeFocus } from './first'

/** Takes a whole number; Enter records, the arrows count up and down. With `tally` the space
 * bar counts as things happen, like drops: the first one begins at 1. */
const props = defineProps<{
  label: string
  unit: string
  initial: string
  problem?: string
  autofocus?: boolean
  big?: boolean
  tally?: string
}>()
const emit = defineEmits<{ record: [count: number] }>()
const id = useId()
const text = ref(props.initial)
const wrong = ref('')

function record() {
  const count = Number(text.value.trim())
  if (!/^\d{1,4}$/.test(text.value.trim())) {
    wrong.value = `“${text.value.slice(0, 24)}” is not a count: write a whole number, like ${props.initial || '3'}`
    return
  }
  wrong.value = ''
  emit('record', count)
}

function step(direction: number) {
  const count = Number(text.value)
  if (Number.isInteger(count)) text.value = String(Math.max(0, count + direction))
}

const counted = ref(0)
function one() {
  counted.value += 1
  text.value = String(counted.value)
}

const vFocus = {
  mounted: (el: HTMLInputElement) => {
    if (props.autofocus) takeFocus(el)
  },
}
</script>

<template>
  <div class="count" :class="{ big }">
    <label :for="id">{{ label }}</label>
    <div class="row">
      <input
        :id="id"
        v-model="text"
        v-focus
        inputmode="numeric"
        autocomplete="off"
        :aria-invalid="(wrong || problem) !== ''"
        :aria-describedby="`${id}-says`"
        @input="counted = Number(text) || 0"
        @keydown.enter.exact.prevent="record"
        @keydown.space="tally && ($event.preventDefault(), one())"
        @keydown.esc.prevent="((text = initial), (counted = 0))"
        @keydown.up.prevent="step(1)"
        @keydown.down.prevent="step(-1)"
      />
      <span class="soft">{{ unit }}</span>
      <el-button v-if="tally" @click="one">{{ tally }} <kbd>Space</kbd></el-button>
      <slot :record="record" />
    </div>
    <p :id="`${id}-says`" class="problem small" role="status">{{ wrong || problem }}</p>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  align-items: center;
  gap: 0.7rem;
}
input {
  font-family: var(--mono);
  font-size: 1.1rem;
  width: 6rem;
  padding: 0.4rem 0.6rem;
  border: 1px solid var(--line-strong);
  border-radius: 3px;
  background: var(--sheet);
  color: var(--ink);
}
.big label {
  display: block;
  margin-bottom: 0.4rem; /* clear of the ring of the field */
}
.big input {
  border: 2px solid var(--ink);
  font-size: 2.2rem;
  width: 8rem;
  padding: 0.1rem 0.6rem;
}
.problem {
  min-height: 1.4em;
  margin: 0.15rem 0 0;
}
</style>
