<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, sentence, type Fact, type FactLine, type NewFact, type Step } from '@/api/client'
import { latest } from '@/api/latest'
import { clock, when } from '@/design/time'
import StepInput from './StepInput.vue'

/** The facts of a step that is done: who, when, what; corrected ones struck
 * through with the reason; and the way to correct. */
const props = defineProps<{
  runId: string
  step: Step
  facts: FactLine[]
  busy?: boolean
  /** What was wrong with what was stated last, and which fact that was to replace. */
  problems?: Map<string, string>
  about?: string
}>()
const emit = defineEmits<{ correct: [fact: Omit<NewFact, 'id'>] }>()

const correcting = ref('')
const withdrawing = ref('')
const reason = ref('')
const reasonMissing = ref(false)
/** The field that took the fact to be corrected, as it asked for it then. */
const field = ref<Step>()
const trouble = ref('')
const asking = latest()

/** Each standing fact, with what it replaced before it. */
const lines = computed(() => {
  const byId = new Map(props.facts.map((line) => [line.fact.id, line]))
  return (props.step.facts ?? []).flatMap((id) => {
    const standing = byId.get(id)
    if (!standing) return []
    const chain: { line: FactLine; by?: Fact }[] = [{ line: standing }]
    for (let at = standing; at.fact.replaces;) {
      const old = byId.get(at.fact.replaces)
      if (!old) break
      chain.unshift({ line: old, by: at.fact })
      at = old
    }
    return chain
  })
})

async function begin(what: 'correct' | 'withdraw', id: string) {
  const current = asking()
  correcting.value = what === 'correct' ? id : ''
  withdrawing.value = what === 'withdraw' ? id : ''
  reason.value = trouble.value = ''
  reasonMissing.value = false
  field.value = undefined
  if (!correcting.value) return
  try {
    const path = { id: props.runId, fact: id }
    const asked = await ask(api.GET('/runs/{id}/facts/{fact}/asked', { params: { path }, signal: current.signal }))
    if (current()) field.value = asked
  } catch (error) {
    if (current()) trouble.value = sentence(error)
  }
}

function send(fact: Omit<NewFact, 'id' | 'replaces' | 'reason'>, replaces: string) {
  if (reason.value.trim() === '') {
    reasonMissing.value = true
    return
  }
  emit('correct', { ...fact, replaces, reason: reason.value.trim() })
}

const written = (q: NonNullable<Fact['quantity']>) => `${q.value.toFixed(q.decimals ?? 4)} ${q.unit}`
function initial(fact: Fact): string {
  if (fact.quantity) return written(fact.quantity)
  return fact.count !== undefined ? String(fact.count) : (fact.date ?? '')
}
</script>

<template>
  <ul class="facts">
    <li v-for="{ line, by } in lines" :key="line.fact.id">
      <component :is="by ? 's' : 'span'">{{ line.sentence }}</component>
      <span class="soft small"> {{ line.fact.by }} {{ clock(line.fact.at) }}</span>
      <span v-if="line.recorded" class="small late"> recorded {{ when(line.recorded) }}</span>
      <span v-if="by" class="small reason"> corrected by {{ by.by }}: {{ by.reason }}</span>
      <span v-else class="ways no-print">
        <el-button v-if="line.fact.kind !== 'decided'" link type="primary" @click="begin('correct', line.fact.id)"
          >Correct</el-button
        >
        <el-button link type="primary" @click="begin('withdraw', line.fact.id)">Take back</el-button>
      </span>
      <div v-if="!by && (correcting === line.fact.id || withdrawing === line.fact.id)" class="correction">
        <label>
          Why<el-input v-model="reason" placeholder="misread" maxlength="300" :aria-invalid="reasonMissing" />
        </label>
        <p v-if="reasonMissing" class="problem small" role="alert">A correction needs a reason, like “misread”.</p>
        <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
        <StepInput
          v-if="field && correcting === line.fact.id"
          :step="field"
          :initial="initial(line.fact)"
          :corrects="line.fact"
          :initial-after="line.fact.after && written(line.fact.after)"
          :busy="busy"
          :problems="about === line.fact.id ? problems : undefined"
          @state="(fact) => send({ ...fact, kind: line.fact.kind, part: line.fact.part }, line.fact.id)"
        />
        <el-button
          v-else-if="withdrawing"
          :disabled="busy"
          @click="send({ kind: 'withdrawn', part: line.fact.part }, line.fact.id)"
          >Take it back</el-button
        >
        <el-button link @click="begin('correct', '')">Leave it</el-button>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.late {
  color: var(--amber);
}
li > .small {
  margin-left: 0.6em;
}
.facts {
  list-style: none;
  margin: 0.3rem 0 0.3rem;
  padding: 0;
}
li {
  padding: 0.15rem 0;
  overflow-wrap: anywhere;
}
.ways {
  display: inline-flex;
  gap: 1rem;
  margin-left: 0.9rem;
}
.reason {
  color: var(--amber);
}
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
