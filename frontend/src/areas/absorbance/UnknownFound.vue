<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { AbsorbanceVessel, Run } from '@/api/client'
import { handOver } from '@/bench/useTyped'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'

/** What was found in an unknown, by each school, and the way on where it is too strong. */
const props = defineProps<{ vessel: AbsorbanceVessel; run: Run }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const router = useRouter()
const figure = (id: string) => props.run.outcome.figures.find((f) => f.id === id)
const main = computed(() => figure(props.vessel.sample || props.vessel.figure))
const read = computed(() => (props.vessel.sample ? figure(props.vessel.figure) : undefined))

/** Opens the dilution that brings it among the standards, filled in. */
function dilute() {
  handOver('dilution', {
    mode: 'one',
    bottle: props.vessel.bottle ?? '',
    stock: props.vessel.text,
    wanted: `1 in ${props.vessel.dilute}`,
    volume: '100',
  })
  void router.push('/dilutions')
}
</script>

<template>
  <section class="found">
    <p class="name">
      {{ vessel.name }}<span v-if="vessel.owner" class="soft">, {{ vessel.owner }}</span>
    </p>
    <p v-if="main" class="main"><FigureText :figure="main" large @explain="(id) => emit('explain', id)" /></p>
    <p v-if="read" class="small">
      in the cell <FigureText :figure="read" @explain="(id) => emit('explain', id)" />; above: before it was diluted
    </p>
    <p v-if="vessel.guess" class="small soft">By eye {{ vessel.guess }}.</p>
    <VerdictLine v-for="v in vessel.verdicts.filter((v) => v.level !== 'fine')" :key="v.sentence" :verdict="v" />
    <el-button v-if="vessel.dilute" class="no-print" @click="dilute"
      >Plan the dilution, 1 in {{ vessel.dilute }}</el-button
    >
    <details class="small">
      <summary>By other ways to read it</summary>
      <table class="plain">
        <tbody>
          <tr v-for="s in vessel.schools" :key="s.name">
            <td>{{ s.name }}<template v-if="s.taken">: counts here</template></td>
            <td class="figure">{{ s.text }}</td>
          </tr>
        </tbody>
      </table>
      <p v-for="v in vessel.verdicts.filter((v) => v.level === 'fine')" :key="v.sentence">
        {{ v.sentence }} <span class="soft">Rule {{ v.rule }}</span>
      </p>
    </details>
  </section>
</template>

<style scoped>
.found {
  border-top: 1px solid var(--line);
  padding: 0.5rem 0;
}
.found p {
  margin: 0.15rem 0;
}
.name {
  font-weight: 600;
}
</style>
