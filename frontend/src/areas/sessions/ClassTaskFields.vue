<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type ClassView, type Plan, type Unknowns } from '@/api/client'
import { newId } from '@/api/id'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'

/** A task for the groups: a plan that they carry out, what is asked for, and what their bottles hold. */
const props = defineProps<{ session: string; first: boolean }>()
const emit = defineEmits<{ added: [view: ClassView] }>()
const plans = ref<Plan[]>([])
const sets = ref<Unknowns[]>([])
const { trouble } = useLook(async () => {
  const params = { path: { id: props.session } }
  plans.value = (await ask(api.GET('/plans'))).items
  sets.value = await ask(api.GET('/lab-sessions/{id}/unknowns', { params }))
}, ['planned'])
const none = ''
const typed = ref({
  plan: none,
  title: '',
  unit: 'mol/L',
  held: '',
  unknowns: none,
  shows: 'after' as 'after' | 'always',
  verdicts: 'always' as 'after' | 'always',
})
let id = newId()
const choices = computed((): [string, string][] => [
  [none, 'choose a plan'],
  ...plans.value.map((p): [string, string] => [p.id, `plan ${p.number}: ${p.title}`]),
])
const given = computed((): [string, string][] => [
  [none, 'no: all have the same bottle'],
  ...sets.value.map((u): [string, string] => [u.id, u.name]),
])
const { busy, says, fields, problem, send } = useForm()
async function add() {
  const { plan, title, unit, held, unknowns, shows, verdicts } = typed.value
  await send(async () => {
    const body = {
      id,
      plan,
      unit,
      shows: shows === 'always',
      quiet: verdicts === 'after',
      ...(title.trim() ? { title } : {}),
      ...(unknowns ? { unknowns } : held.trim() ? { held } : {}),
    }
    emit(
      'added',
      await ask(api.POST('/lab-sessions/{id}/class/tasks', { params: { path: { id: props.session } }, body })),
    )
    id = newId()
    typed.value = { ...typed.value, plan: none, title: '', held: '', unknowns: none }
  })
}
</script>

<template>
  <details class="task-fields" :open="first">
    <summary>Give the groups a task</summary>
    <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
    <p v-if="plans.length === 0 && !trouble" class="soft">
      Plan a titration or a standard first: the groups carry it out by its run sheet.
    </p>
    <form v-else @submit.prevent="add">
      <div class="fields">
        <SelectField
          v-model="typed.plan"
          class="wide"
          label="They carry out"
          :options="choices"
          :problem="problem('/plan')"
        />
        <TextField v-model="typed.title" class="wide" words :max="120" label="Title on their sheet, if another" />
        <TextField v-model="typed.unit" words label="Result in" :problem="problem('/unit')" />
        <SelectField
          v-model="typed.shows"
          label="Computed figures are shown"
          :options="[
            ['after', 'once they handed theirs in'],
            ['always', 'at once'],
          ]"
        />
        <SelectField
          v-model="typed.verdicts"
          label="Verdicts are shown"
          :options="[
            ['always', 'at once'],
            ['after', 'once they handed theirs in'],
          ]"
        />
        <SelectField
          v-model="typed.unknowns"
          label="Unknowns of their own"
          :options="given"
          :problem="problem('/unknowns')"
        />
        <TextField
          v-if="!typed.unknowns"
          v-model="typed.held"
          words
          label="What the bottles hold, where it is known"
          placeholder="0.0512 ± 0.0002 mol/L"
          :problem="problem('/held')"
        />
      </div>
      <p v-if="typed.shows === 'after' && typed.verdicts === 'always'" class="small soft">
        Verdicts may tell a difference or a mean of what the groups read.
      </p>
      <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
      <el-button type="primary" native-type="submit" :disabled="busy || !typed.plan">Give it out</el-button>
    </form>
  </details>
</template>

<style scoped>
.task-fields {
  margin-top: 1.2rem;
  max-width: 44rem;
}
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.1rem 0.8rem;
}
.wide {
  grid-column: 1 / -1;
}
</style>
