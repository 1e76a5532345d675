<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import ReadingCell from '@/bench/ReadingCell.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'
import AdditionPlot from './AdditionPlot.vue'
import BetaPlot from './BetaPlot.vue'

/** The row of beakers: their curves, what was read in each, and its results. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const view = computed(() => (props.run.outcome.view.kind === 'capacity' ? props.run.outcome.view : undefined))
const titrated = computed(() => (view.value?.beakers ?? []).filter((b) => b.kind === 'titrated'))
</script>

<template>
  <div v-if="view">
    <template v-if="titrated.length">
      <AdditionPlot :beakers="titrated" />
      <BetaPlot :beakers="titrated" />
    </template>
    <VerdictLine v-for="v in view.verdicts" :key="v.sentence" :verdict="v" />
    <p v-for="f in run.outcome.figures" :key="f.id" class="also">
      <FigureText :figure="f" @explain="(id) => emit('explain', id)" /> <span class="small soft">{{ f.label }}</span>
    </p>
    <section v-for="(b, i) in view.beakers" :key="b.name" :aria-label="b.name" :class="{ hand: i === view.atHand }">
      <h3>
        {{ b.name.charAt(0).toUpperCase() + b.name.slice(1)
        }}<span class="small soft">{{ i === view.atHand ? ', at hand' : b.done ? ', done' : '' }}</span>
      </h3>
      <table v-if="b.rows.length">
        <thead>
          <tr>
            <th>{{ b.kind === 'bath' ? '°C' : 'mL' }}</th>
            <th>pH</th>
            <th>theory</th>
            <th>{{ { titrated: 'β, mmol/L per pH', diluted: '', bath: 'colour expected' }[b.kind] }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(r, k) in b.rows" :key="k">
            <tr>
              <td v-if="b.kind === 'bath'">{{ r.celsius }}</td>
              <td v-else><ReadingCell :fact="r.portion" what="what was added" :text="r.added" /></td>
              <td><ReadingCell :fact="r.fact" what="the pH" :text="r.pH" /></td>
              <td class="soft">{{ b.c || b.kind !== 'titrated' ? r.theory : '' }}</td>
              <td v-if="b.kind === 'bath'" class="words">
                <template v-if="r.colour"
                  ><span class="shade" :style="{ background: r.shade }" aria-hidden="true" /> {{ r.colour }}</template
                >
              </td>
              <td v-else>{{ r.beta }}</td>
            </tr>
            <CorrectionHere :facts="[r.portion, r.fact]" :columns="4" />
          </template>
        </tbody>
      </table>
      <p v-if="b.seen" class="small">Seen in the bath: {{ b.seen }}.</p>
      <p v-if="!b.rows.length" class="small soft">Its readings will stand here.</p>
    </section>
  </div>
</template>

<style scoped>
section {
  border-top: 1px solid var(--line);
  padding: 0.5rem 0 0.4rem 0.6rem;
}
.hand {
  box-shadow: inset 3px 0 0 var(--green);
}
h3 {
  margin-bottom: 0.2rem;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th {
  font-weight: 400;
  font-size: 0.87rem;
  color: var(--ink-soft);
}
td {
  font-family: var(--mono);
}
th,
td {
  text-align: right;
  padding: 0.12rem 0 0.12rem 0.6rem;
}
.words {
  font-family: inherit;
}
.shade {
  display: inline-block;
  width: 0.9em;
  height: 0.9em;
  border: 1px solid var(--line-strong);
  border-radius: 50%;
  vertical-align: -0.1em;
}
.also {
  margin: 0.2rem 0;
}
</style>
