<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import type { BufferAnswer } from '@/api/client'
import VerdictLine from '@/bench/VerdictLine.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import { useKeys } from '@/bench/keys'
import { spread } from '@/design/figure'
import ChargeBars from './ChargeBars.vue'

/** What to take, what it gives, the estimate beside it, and what to mind. */
const props = defineProps<{ answer: BufferAnswer; ready: boolean }>()
const emit = defineEmits<{ take: [] }>()
const design = computed(() => props.answer.design)
const line = computed(() => design.value.lines[0]!)
const working = ref(false)
const takeButton = useTemplateRef<{ ref: HTMLElement }>('takeButton')
defineExpose({ focus: () => takeButton.value?.ref.focus() })
useKeys([{ key: '=', does: 'working of the estimate', act: () => (working.value = !working.value) }])
</script>

<template>
  <WorkingPanel v-if="working" :lines="[design.estimate.line]" title="the estimate" @close="working = false" />
  <template v-else>
    <p class="small soft">
      {{ design.name }}, {{ design.byVolume ? 'mixed by volume' : `to the mark of a ${design.flask.volume} mL flask` }}
    </p>
    <template v-if="design.lines.length === 1 && !design.byVolume">
      <p v-for="take in line.takes" :key="take.name" class="take">
        <span class="figure">{{ take.amount }}</span> {{ take.name }}
      </p>
    </template>
    <div v-else class="wide-table">
      <table aria-label="The row">
        <thead>
          <tr>
            <th>pH</th>
            <th v-for="take in line.takes" :key="take.name">{{ take.name }}</th>
            <th v-if="design.byVolume">mol/L</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(l, i) in design.lines" :key="i">
            <td class="figure">{{ l.target.toFixed(2) }}</td>
            <td v-for="take in l.takes" :key="take.name" class="figure">{{ take.amount }}</td>
            <td v-if="design.byVolume" class="figure">{{ l.total }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="design.lines.length > 1" class="small soft">The first of them:</p>
    <dl>
      <template v-for="f in line.figures" :key="f.id">
        <dt>{{ f.label }}</dt>
        <dd class="figure">{{ f.text }} {{ spread(f) }} {{ f.unit }}</dd>
      </template>
      <template v-if="line.made !== line.target.toFixed(2)">
        <dt>made to, at {{ design.madeAt }} °C</dt>
        <dd class="figure">pH {{ line.made }}</dd>
      </template>
      <dt>diluted by two</dt>
      <dd class="figure">pH {{ line.diluted }}</dd>
    </dl>
    <el-button ref="takeButton" type="primary" :disabled="!ready" @click="emit('take')">Take it to the bench</el-button>
    <section class="estimate">
      <h3>The estimate beside it</h3>
      <p>
        Henderson–Hasselbalch says base over acid
        <button type="button" class="figure ratio" title="How the estimate came about" @click="working = true">
          {{ design.estimate.ratio }}</button>&nbsp;<kbd>=</kbd>. Made so, it would have pH
        <span class="figure">{{ design.estimate.pH }}</span>.
      </p>
      <p v-for="reason in design.estimate.reasons ?? []" :key="reason" class="small soft">{{ reason }}</p>
    </section>
    <section v-if="design.balance" class="estimate">
      <h3>The full balance</h3>
      <ChargeBars :balance="design.balance" />
    </section>
    <VerdictLine v-for="v in design.verdicts" :key="v.sentence" :verdict="v" />
    <p class="small soft">
      Your local rules, the safety data sheets and licensed waste handling come first. Acid into water, never the
      reverse.
    </p>
  </template>
</template>

<style scoped>
.take {
  margin: 0.2rem 0;
}
.take .figure {
  display: block;
  font-size: 2rem;
  font-weight: 700;
  line-height: 1.15;
}
dl {
  display: grid;
  grid-template-columns: minmax(0, 7.5rem) 1fr;
  gap: 0.2rem 0.9rem;
  border-top: 1px solid var(--line);
  padding-top: 0.6rem;
  margin: 0.7rem 0;
}
dt {
  color: var(--ink-soft);
  font-size: 0.9rem;
}
dd {
  margin: 0;
  font-size: 0.93rem;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 0.2rem 0.7rem 0.2rem 0;
  border-bottom: 1px solid var(--line);
}
th {
  font-weight: 400;
  font-size: 0.87rem;
  color: var(--ink-soft);
}
.wide-table {
  overflow-x: auto;
}
.ratio {
  font: inherit;
  font-family: var(--mono);
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 2px dotted var(--line-strong);
  padding: 0;
  cursor: pointer;
}
.estimate {
  border-top: 1px solid var(--line);
  margin-top: 0.9rem;
  padding-top: 0.7rem;
}
</style>
