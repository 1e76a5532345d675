<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue'
import { askedAhead, canCarryOn } from '@/ahead/ahead'
import { api, ask, sentence, Unreachable, type Fact, type NewFact, type Step } from '@/api/client'
import { useCorrecting } from './correcting'
import StepInput from './StepInput.vue'

/** Corrects a fact in the very field that took it, or takes it back; each with a reason. */
const props = defineProps<{ fact: Fact; withdraws?: boolean }>()
const emit = defineEmits<{ leave: [] }>()
const { run, busy, problems, about, state } = useCorrecting()!

const reason = ref('')
const reasonMissing = ref(false)
/** The field that took the fact, as it asked for it then. */
const field = ref<Step>()
const trouble = ref('')
const why = useTemplateRef('why')
const form = useTemplateRef('form')
const goOn = () => form.value?.querySelector<HTMLElement>('.step-input input, .step-input button, .withdraws')?.focus()

onMounted(async () => {
  why.value?.focus()
  if (props.withdraws || !run.value) return
  const id = run.value.summary.id
  try {
    const path = { id, fact: props.fact.id }
    field.value = await ask(api.GET('/runs/{id}/facts/{fact}/asked', { params: { path } })).catch((error) => {
      if (!(error instanceof Unreachable) || !canCarryOn(id)) throw error
      return askedAhead(run.value!, props.fact.id)
    })
  } catch (error) {
    trouble.value = sentence(error)
  }
})

function send(fact: Omit<NewFact, 'id' | 'replaces' | 'reason'>) {
  if (reason.value.trim() === '') {
    reasonMissing.value = true
    return
  }
  state({ ...fact, part: props.fact.part, replaces: props.fact.id, reason: reason.value.trim() })
}

const written = (q: NonNullable<Fact['quantity']>) => `${q.value.toFixed(q.decimals ?? 4)} ${q.unit}`
function initial({ quantity, count, date }: Fact): string {
  if (quantity) return written(quantity)
  return count !== undefined ? String(count) : (date ?? '')
}
</script>

<template>
  <div ref="form" class="correction">
    <label>
      Why<el-input
        ref="why"
        v-model="reason"
        placeholder="misread"
        maxlength="300"
        :aria-invalid="reasonMissing"
        @keydown.enter.exact.prevent="goOn"
      />
    </label>
    <p v-if="reasonMissing" class="problem small" role="alert">A correction needs a reason, like “misread”.</p>
    <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
    <StepInput
      v-if="field"
      :step="field"
      :initial="initial(fact)"
      :corrects="fact"
      :initial-after="fact.after && written(fact.after)"
      :busy="busy"
      :problems="about === fact.id ? problems : undefined"
      @state="(stated) => send({ ...stated, kind: fact.kind })"
    />
    <el-button v-else-if="withdraws" class="withdraws" :disabled="busy" @click="send({ kind: 'withdrawn' })"
      >Take it back</el-button
    >
    <el-button link @click="emit('leave')">Leave it</el-button>
  </div>
</template>

<style scoped>
.correction {
  border-left: 3px solid var(--amber);
  padding: 0.5rem 0 0.5rem 0.9rem;
  margin: 0.3rem 0;
}
label {
  display: block;
  max-width: 24rem;
  font-size: 0.87rem;
  color: var(--ink-soft);
  margin-bottom: 0.4rem;
}
</style>
