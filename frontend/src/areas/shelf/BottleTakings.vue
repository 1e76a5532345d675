<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Bottle } from '@/api/client'
import { newId } from '@/api/id'
import QuantityField from '@/bench/QuantityField.vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'
import { when } from '@/design/time'

/** What was taken out of a bottle, and what is taken by hand. */
const props = defineProps<{ bottle: Bottle }>()
const emit = defineEmits<{ taken: [bottle: Bottle] }>()
const taking = ref({ volume: '', purpose: '' })
const { busy, says, problem, send } = useForm()
async function take() {
  const { volume, purpose } = taking.value
  const done = await send(async () => {
    const params = { path: { id: props.bottle.id } }
    const body = { id: newId(), volume: { text: volume, unit: 'mL' }, purpose }
    emit('taken', await ask(api.POST('/bottles/{id}/takings', { params, body })))
  })
  if (done) taking.value = { volume: '', purpose: '' }
}
</script>

<template>
  <section class="takings">
    <h2>Taken out of it</h2>
    <ul v-if="bottle.takings?.length">
      <li v-for="t in bottle.takings" :key="t.at">
        <span class="figure">{{ t.volume }} mL</span>, {{ t.purpose }}
        <span class="small soft">{{ t.by }} {{ when(t.at) }}</span>
      </li>
    </ul>
    <form v-if="bottle.state === 'shelf'" class="no-print" @submit.prevent="take">
      <QuantityField
        v-model="taking.volume"
        label="Volume taken"
        unit="mL"
        :dimensions="['volume']"
        :problem="problem('/volume')"
        @record="take"
      />
      <TextField v-model="taking.purpose" words label="What for" :problem="problem('/purpose')" />
      <el-button native-type="submit" :disabled="busy">Record it</el-button>
    </form>
    <p v-if="says && !problem('/volume') && !problem('/purpose')" class="problem" role="alert">{{ says }}</p>
  </section>
</template>

<style scoped>
.takings ul {
  margin: 0 0 0.6rem;
  padding-left: 1.1rem;
}
.takings form {
  display: grid;
  grid-template-columns: 11rem minmax(10rem, 18rem) auto;
  gap: 0 1rem;
}
.takings form button {
  align-self: start;
  margin-top: 1.25rem;
}
@media (max-width: 760px) {
  .takings form {
    grid-template-columns: 1fr;
  }
}
</style>
