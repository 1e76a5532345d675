<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import ReadingCell from '@/bench/ReadingCell.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'
import MeasuredPlot from './MeasuredPlot.vue'

/** The growing curve, what it gives, and the readings. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const view = computed(() => (props.run.outcome.view.kind === 'curve' ? props.run.outcome.view : undefined))
const plan = computed(() => (props.run.plan.kind === 'curve' ? props.run.plan.design : undefined))
const listed = (name: string) => view.value?.parameters.find((p) => p.name === name)?.listed
</script>

<template>
  <div v-if="view">
    <MeasuredPlot :view="view" />
    <template v-if="!view.readings.length && plan">
      <VerdictLine v-for="v in plan.curve.verdicts" :key="v.sentence" :verdict="v" />
    </template>
    <p v-for="f in run.outcome.figures" :key="f.id" class="also">
      <FigureText :figure="f" @explain="(id) => emit('explain', id)" />{{ ' ' }}
      <span class="small soft">
        {{ f.label }}<template v-if="listed(f.id)">; the library lists {{ listed(f.id)!.toFixed(3) }}</template>
      </span>
    </p>
    <p v-for="h in view.halves" :key="h.volume" class="small">
      Half way, at <span class="figure">{{ h.volume.toFixed(2) }} mL</span>: pH
      <span class="figure">{{ h.pH.toFixed(2) }}</span>
    </p>
    <p v-if="view.before || view.after" class="small">
      Lines of Gran point to
      <template v-if="view.before"
        ><span class="figure">{{ view.before.volume.toFixed(2) }} mL</span> before</template
      ><template v-if="view.before && view.after"> and </template
      ><template v-if="view.after"
        ><span class="figure">{{ view.after.volume.toFixed(2) }} mL</span> after</template
      >
      the end point.
    </p>
    <VerdictLine v-for="v in view.verdicts" :key="v.sentence" :verdict="v" />
    <table v-if="view.readings.length" aria-label="Readings">
      <thead>
        <tr>
          <th>mL</th>
          <th>pH</th>
          <th>ΔpH/mL</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(p, i) in view.readings" :key="i">
          <tr>
            <td><ReadingCell :fact="view.facts[i]!.volume" what="the volume" :text="p.volume.toFixed(2)" /></td>
            <td><ReadingCell :fact="view.facts[i]!.pH" what="the pH" :text="p.pH.toFixed(2)" /></td>
            <td class="soft">{{ view.slopes?.find((s) => s.volume === p.volume)?.first.toFixed(2) ?? '' }}</td>
          </tr>
          <CorrectionHere :facts="[view.facts[i]!.volume, view.facts[i]!.pH]" :columns="3" />
        </template>
      </tbody>
    </table>
    <template v-else>
      <p v-if="run.plan.kind === 'curve' && run.plan.design.prospect">{{ run.plan.design.prospect }}</p>
      <p class="small soft">Each reading will stand here and on the plot.</p>
    </template>
  </div>
</template>

<style scoped src="@/design/readings.css"></style>
<style scoped>
.also {
  margin: 0.2rem 0;
}
</style>
