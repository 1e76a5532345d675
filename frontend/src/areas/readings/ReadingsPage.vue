<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type LabMeter } from '@/api/client'
import { newId } from '@/api/id'
import { useBench } from '@/bench/bench'
import MadeBefore from '@/bench/MadeBefore.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { useBegin } from '@/bench/useBegin'
import VerdictLine from '@/bench/VerdictLine.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'

/** What is read, and with which meter: its calibration comes along. */
const bench = useBench()
const meters = ref<LabMeter[]>()
const meter = ref('')
const name = ref('')
const { problem, trouble, busy, begin } = useBegin()
const { look } = useLook(
  async () => {
    if (!bench.bench) await bench.look()
    const list = await ask(api.GET('/meters'))
    meters.value = list
    if (!list.some((m) => m.id === meter.value)) meter.value = bench.bench?.meter?.id ?? list[0]?.id ?? ''
  },
  ['setup', 'calibration', 'readings', 'bench'],
  trouble,
)

const chosen = computed(() => meters.value?.find((m) => m.id === meter.value))
const names = computed(() => (meters.value ?? []).map((m) => [m.id, `${m.meter.name}, ${m.standing.word}`] as const))

function start() {
  const question = { meter: meter.value, name: name.value, celsius: bench.bench?.waterTemperature ?? 20 }
  return begin({ id: newId(), kind: 'readings', question })
}
</script>

<template>
  <h1>What is read?</h1>
  <p v-if="trouble" class="problem" role="alert">
    {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
  </p>
  <p v-if="meters?.length === 0" class="soft">
    No pH meter yet. <RouterLink to="/setup/meters">Add the first one</RouterLink>, calibrate it, then read samples with
    it.
  </p>
  <form v-if="chosen" v-first @submit.prevent="start">
    <TextField
      v-model="name"
      words
      label="Samples, in a few words"
      :max="60"
      placeholder="Pond, six places"
      :problem="problem('/name')"
    />
    <SelectField v-model="meter" label="Meter" :options="names" :problem="problem('/meter', '/run')" />
    <el-button type="primary" native-type="submit" :disabled="busy">Begin the log <kbd>Enter</kbd></el-button>
  </form>
  <template v-if="chosen">
    <VerdictLine :verdict="chosen.standing.verdict" />
    <p v-if="chosen.standing.verdict.level !== 'fine'"><RouterLink to="/meters">Calibrate it</RouterLink></p>
  </template>
  <MadeBefore kind="readings" once @trouble="(error) => (trouble = sentence(error))" />
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: minmax(0, 20rem) minmax(0, 18rem) auto;
  gap: 0.4rem 1.2rem;
  align-items: center;
  margin-bottom: 0.8rem;
}
@media (max-width: 900px) {
  form {
    grid-template-columns: 1fr;
  }
}
</style>
