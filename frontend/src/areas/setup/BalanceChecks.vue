<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type BalanceCheck, type LabBalance } from '@/api/client'
import { figures } from '@/api/figures'
import { newId } from '@/api/id'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import { when } from '@/design/time'

/** The check of a balance with a check weight, and its log. */
const props = defineProps<{ balance: LabBalance }>()
const checks = ref<BalanceCheck[]>()
const draft = ref({ weight: '100', weightLimits: '0.0005', reading: '' })
const { busy, says, fields, problem, send } = useForm()

const { trouble } = useLook(async () => {
  checks.value = await ask(api.GET('/balances/{id}/checks', { params: { path: { id: props.balance.id } } }))
}, ['setup'])

async function check() {
  const params = { path: { id: props.balance.id } }
  const done = await send(() =>
    ask(api.POST('/balances/{id}/checks', { params, body: { id: newId(), ...figures(draft.value) } })),
  )
  if (done) draft.value.reading = ''
}
</script>

<template>
  <form class="check" @submit.prevent="check">
    <p class="small soft">
      Level, warmed up, tared at zero; the weight with tweezers onto the middle of the pan. After a failed check all
      that was weighed since the last good one is marked.
    </p>
    <TextField v-model="draft.weight" label="Check weight, g" :problem="problem('/weight')" />
    <TextField v-model="draft.weightLimits" label="known within ±, g" :problem="problem('/weightLimits')" />
    <TextField v-model="draft.reading" label="The balance shows, g" :problem="problem('/reading')" />
    <el-button type="primary" native-type="submit" :disabled="busy">Record the check</el-button>
    <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
  </form>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <ul v-if="checks?.length" class="log" aria-label="Checks">
    <li v-for="c in checks" :key="c.id">
      <strong :class="{ failed: !c.passed }">{{ c.passed ? 'Passed' : 'Failed' }}</strong>:
      <span class="figure">{{ c.reading }} g</span> for a weight of <span class="figure">{{ c.weight }} g</span>,
      {{ c.sentence }}
      <span class="small soft">{{ c.by }} {{ when(c.at) }}</span>
    </li>
  </ul>
</template>

<style scoped>
.check {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 11rem)) auto;
  gap: 0 1rem;
  align-items: center;
}
.check .el-button {
  justify-self: start;
}
.check > p {
  grid-column: 1 / -1;
  margin: 0.3rem 0;
}
.log {
  margin: 0.4rem 0;
  padding-left: 1.1rem;
}
.failed {
  color: var(--red);
}
@media (max-width: 760px) {
  .check {
    grid-template-columns: 1fr;
  }
}
</style>
