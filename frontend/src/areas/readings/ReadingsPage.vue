<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
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
import ReachPlot from './ReachPlot.vue'

/** What is read, and with which meter: its calibration comes along. */
const bench = useBench()
const meters = shallowRef<LabMeter[]>()
const meter = ref('')
const name = ref('')
const { problem, trouble, busy, begin } = useBegin()
const { look } = useLook(
  async () => {
    await bench.known()
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
  <div class="sheet-and-side">
    <section class="question">
      <h1>What is read?</h1>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <p v-if="meters?.length === 0" class="soft">
        No pH meter yet. <RouterLink to="/setup/meters">Add the first one</RouterLink>, calibrate it, then read samples
        with it.
      </p>
      <form v-if="chosen" v-first @submit.prevent="start">
        <fieldset>
          <legend>The log</legend>
          <TextField
            v-model="name"
            words
            class="wide"
            label="Samples, in a few words"
            :max="60"
            placeholder="Pond, six places"
            :problem="problem('/name')"
          />
          <SelectField v-model="meter" label="Meter" :options="names" :problem="problem('/meter', '/run')" />
        </fieldset>
        <el-button type="primary" native-type="submit" :disabled="busy">Begin the log <kbd>Enter</kbd></el-button>
      </form>
      <MadeBefore kind="readings" once @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <aside v-if="chosen" aria-label="What it would be">
      <VerdictLine :verdict="chosen.standing.verdict" />
      <p v-if="chosen.standing.verdict.level !== 'fine'"><RouterLink to="/meters">Calibrate it</RouterLink></p>
      <ReachPlot v-if="chosen.reach" :meter="chosen" />
    </aside>
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
