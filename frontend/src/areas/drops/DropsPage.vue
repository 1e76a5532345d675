<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type LabGlass, type Tip } from '@/api/client'
import { useBench } from '@/bench/bench'
import MadeBefore from '@/bench/MadeBefore.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import PreviewSide from '@/bench/PreviewSide.vue'
import { vFirst } from '@/bench/first'
import { useLook } from '@/bench/useLook'
import { usePreview } from '@/bench/usePreview'
import { useTyped } from '@/bench/useTyped'

/** Which tip, which liquid, and how its drops are caught. */
const bench = useBench()
const { typed, forget } = useTyped(
  'drops',
  () => ({ name: '', liquid: 'Water', density: '', by: 'weighed' as 'weighed' | 'cylinder', cylinder: '5' }),
  ['name', 'density'],
)
const tips = shallowRef<Tip[]>()
const glass = shallowRef<LabGlass[]>([])

const cylinders = computed((): [string, string][] => {
  const owned = [...new Set(glass.value.filter((g) => g.item.kind === 'cylinder').map((g) => g.item.volume))]
  return (owned.length ? owned : [5, 10, 25]).sort((a, b) => a - b).map((v) => [String(v), `${v} mL`])
})

function question() {
  const t = typed.value
  const cylinder = cylinders.value.some(([v]) => v === t.cylinder) ? t.cylinder : cylinders.value[0]![0]
  return {
    name: t.name.trim(),
    liquid: t.liquid.trim(),
    density: t.density || 0,
    by: t.by,
    ...(t.by === 'cylinder' ? { cylinder } : {}),
    celsius: bench.bench?.waterTemperature ?? 20,
  }
}
const { answer, problems, problem, trouble, busy, computeSoon, toTheBench } = usePreview('droptip', question, () =>
  Boolean(tips.value && typed.value.name.trim() && typed.value.liquid.trim()),
)
watch(typed, computeSoon, { deep: true })
watch([tips, () => bench.bench], computeSoon)
const { look } = useLook(
  async () => {
    await bench.known()
    ;[tips.value, glass.value] = await Promise.all([ask(api.GET('/tips')), ask(api.GET('/glass'))])
  },
  ['droptip', 'setup', 'bench'],
  trouble,
)

async function start() {
  if (await toTheBench()) forget()
}
</script>

<template>
  <div class="sheet-and-side">
    <section class="question">
      <h1>How large is a drop from this tip?</h1>
      <p class="soft lead">
        A class without burettes titrates in counted drops. Calibrate each dropper with the liquid that it will drip.
      </p>
      <p v-if="trouble" class="problem" role="alert">
        {{ trouble }} <el-button link type="primary" @click="look">Try again</el-button>
      </p>
      <form v-first @submit.prevent="start">
        <fieldset>
          <legend>What drips</legend>
          <TextField v-model="typed.name" words label="Tip" placeholder="Dropper 3" :problem="problem('/name')" />
          <TextField v-model="typed.liquid" words label="Liquid" :problem="problem('/liquid')" />
          <TextField
            v-model="typed.density"
            label="Density, g/mL"
            placeholder="empty: as water"
            :problem="problem('/density')"
          />
        </fieldset>
        <fieldset>
          <legend>How the drops are caught</legend>
          <SelectField
            v-model="typed.by"
            label="Caught"
            :options="[
              ['weighed', 'in a beaker, weighed'],
              ['cylinder', 'in a cylinder, read'],
            ]"
            :problem="problem('/by')"
          />
          <SelectField
            v-if="typed.by === 'cylinder'"
            v-model="typed.cylinder"
            label="Cylinder"
            :options="cylinders"
            :problem="problem('/cylinder')"
          />
        </fieldset>
        <el-button type="primary" native-type="submit" :disabled="busy">Count drops <kbd>Enter</kbd></el-button>
        <p class="small soft">Your local rules and the safety data sheets come first.</p>
      </form>
      <section v-if="tips?.length" class="tips">
        <h2>Tips that are calibrated</h2>
        <table class="plain">
          <tbody>
            <tr v-for="t in tips" :key="t.run">
              <td>
                <RouterLink :to="`/runs/${t.run}`">{{ t.title }}</RouterLink>
              </td>
              <td class="figure">{{ t.text }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <MadeBefore kind="droptip" @trouble="(error) => (trouble = sentence(error))" />
    </section>
    <PreviewSide kind="droptip" :run="answer" :unclear="problems.size > 0 || !typed.name.trim()">
      <template v-if="answer?.plan.kind === 'droptip'" #first>
        <p>{{ answer.plan.design.prospect }}</p>
      </template>
    </PreviewSide>
  </div>
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.lead {
  max-width: 44rem;
}
.tips {
  max-width: 52rem;
  margin-top: 1.4rem;
}
</style>
