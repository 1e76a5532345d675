<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import VialDrawing from '@/bench/VialDrawing.vue'
import FigureText from '@/design/FigureText.vue'
import { tint } from './tint'

/** The rack of a dilution at the bench: what each tube holds, or is to hold. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string]; decide: [choice: string, part: number] }>()
const rack = computed(() => (props.run.outcome.view.kind === 'dilution' ? props.run.outcome.view.rack : []))
/** What may be decided about each tube now. */
const offers = (part: number) =>
  props.run.outcome.offers.filter((o) => (o.part ?? 0) === part && o.id !== 'start-again')
</script>

<template>
  <p class="small soft">The rack, k = 2, at 20 °C</p>
  <ol class="rack" aria-label="Rack">
    <li v-for="(t, i) in rack" :key="t.label" :class="{ planned: !t.made }">
      <VialDrawing :tint="tint(t.factor)" :planned="!t.made" />
      <div>
        <strong>{{ t.label === 'blank' ? 'Blank' : `Tube ${t.label}` }}</strong>
        <span class="small soft">
          {{ t.factor ? `1 in ${Number(t.factor.toPrecision(6))}` : 'solvent alone' }}{{ t.made ? '' : ', as planned' }}
        </span>
        <p><FigureText :figure="t.concentration" @explain="emit('explain', t.concentration.id)" /></p>
        <p v-if="t.void" class="small void">{{ t.void }}</p>
        <el-button
          v-for="o in run.outcome.status === 'open' ? offers(i) : []"
          :key="o.id"
          link
          type="primary"
          size="small"
          :disabled="busy"
          @click="emit('decide', o.id, i)"
          >{{ o.label }}</el-button
        >
      </div>
    </li>
  </ol>
</template>

<style scoped>
.rack {
  list-style: none;
  margin: 0.4rem 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 1.7rem 1fr;
  gap: 0.9rem;
  padding: 0.45rem 0;
  border-bottom: 1px solid var(--line);
}
strong {
  margin-right: 0.6rem;
}
p {
  margin: 0.1rem 0;
}
.planned {
  color: var(--ink-soft);
}
.void {
  color: var(--red);
}
</style>
