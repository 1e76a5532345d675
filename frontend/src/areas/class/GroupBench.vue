<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { useSheet } from './sheet'

/** What stands on the bench of the group. What it leaves to the lab is as the lab has it. */
const own = useSheet()
const { busy, says, fields, problem, send } = useForm()
const typed = ref({ balance: '', meter: '', burette: '', celsius: '' })
watch(
  () => JSON.stringify(own.sheet?.bench), // the sheet is read again at every change in the class
  () => (typed.value = { balance: '', meter: '', burette: '', celsius: '', ...own.sheet?.bench }),
  { immediate: true },
)
const from = (list: readonly string[]) => [['', 'the lab’s'] as const, ...list.map((name) => [name, name] as const)]
const has = computed(() => {
  const { balance, meter, burette, celsius } = own.sheet?.bench ?? {}
  return [balance, meter, burette, celsius && `${celsius} °C`].filter(Boolean).join(', ')
})
</script>

<template>
  <details v-if="own.sheet">
    <summary>Your bench: {{ has || 'as the lab’s' }}</summary>
    <form @submit.prevent="send(() => own.setBench(typed))">
      <SelectField
        v-if="own.sheet.balances.length"
        v-model="typed.balance"
        label="Your balance"
        :options="from(own.sheet.balances)"
        :problem="problem('/balance')"
      />
      <SelectField
        v-if="own.sheet.burettes.length"
        v-model="typed.burette"
        label="Your burette"
        :options="from(own.sheet.burettes)"
        :problem="problem('/burette')"
      />
      <SelectField
        v-if="own.sheet.meters.length"
        v-model="typed.meter"
        label="Your pH meter"
        :options="from(own.sheet.meters)"
        :problem="problem('/meter')"
      />
      <TextField
        v-model="typed.celsius"
        label="Water and solutions, °C"
        placeholder="the lab’s"
        :problem="problem('/celsius')"
      />
      <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
      <el-button native-type="submit" :disabled="busy">This is our bench</el-button>
    </form>
    <p class="small soft">What you begin from now on is worked out for it. What you have begun stays as it was.</p>
  </details>
</template>

<style scoped>
summary {
  padding: 0.5rem 0;
  cursor: pointer;
}
form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
  gap: 0.3rem 1.2rem;
  align-items: end;
  max-width: 46rem;
}
</style>
