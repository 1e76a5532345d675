<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import ReadingCell from '@/bench/ReadingCell.vue'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'
import { clock } from '@/design/time'
import LinePlot from './LinePlot.vue'
import UnknownFound from './UnknownFound.vue'
import VesselRow from './VesselRow.vue'

/** The line as it grows, the unknowns by it, and every reading. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string]; decide: [choice: string, part: number, text?: string] }>()
const view = computed(() => (props.run.outcome.view.kind === 'absorbance' ? props.run.outcome.view : undefined))
const found = computed(() => view.value?.vessels.filter((v) => v.figure) ?? [])
const sample = computed(() => props.run.outcome.figures.find((f) => f.id === view.value?.added?.figure))
const ofLine = computed(() =>
  props.run.outcome.figures.filter((f) => !/^(unknown|sample) /.test(f.id) && f !== sample.value),
)
const offers = (part: number) =>
  props.run.outcome.offers.filter((o) => (o.id === 'again' || o.id === 'strike') && (o.part ?? 0) === part)
const blank = computed(() => props.run.outcome.offers.find((o) => o.id === 'blank'))
/** What is said of the line: all of it at the end; what to look at as soon as the standards are read, and once only. */
const said = computed(() => {
  if (!view.value || props.run.outcome.status !== 'open') return view.value?.verdicts ?? []
  const isRead = view.value.vessels.every((v) => v.unknown || v.readings.length > 0)
  const isAsked = props.run.outcome.steps.some((s) => s.id === 'judge' && s.state === 'now')
  return isRead && !isAsked ? view.value.verdicts.filter((v) => v.level !== 'fine') : []
})
const cells = computed(() => view.value?.vessels.some((v) => v.cell > 1) ?? false)
</script>

<template>
  <div v-if="view">
    <LinePlot :view="view" />
    <p v-if="view.line" class="says figure">{{ view.says }}</p>
    <p v-else class="soft">{{ view.predicted || view.not }}</p>
    <section v-if="view.added && sample" class="added">
      <h3>The sample</h3>
      <p><FigureText :figure="sample" large @explain="(id) => emit('explain', id)" /></p>
      <VerdictLine v-for="v in view.added.verdicts" :key="v.sentence" :verdict="v" />
    </section>
    <div class="unknowns">
      <UnknownFound v-for="v in found" :key="v.part" :vessel="v" :run="run" @explain="(id) => emit('explain', id)" />
    </div>
    <VerdictLine v-for="v in said" :key="v.sentence" :verdict="v" />
    <dl v-if="ofLine.length">
      <template v-for="f in ofLine" :key="f.id">
        <dt>{{ f.label }}</dt>
        <dd><FigureText :figure="f" @explain="(id) => emit('explain', id)" /></dd>
      </template>
    </dl>
    <p v-if="view.limits" class="small soft">{{ view.limits }}</p>
    <div class="across" tabindex="0" role="group" aria-label="Tubes and their readings">
      <table v-if="view.blanks.length || view.vessels.length" aria-label="Readings">
        <thead>
          <tr>
            <th>tube</th>
            <th>{{ view.unit }}</th>
            <th v-if="cells">cell</th>
            <th>shown</th>
            <th>A</th>
            <th>%T</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(b, i) in view.blanks" :key="b.fact">
            <tr>
              <th scope="row">Blank, {{ clock(b.at) }}</th>
              <td></td>
              <td v-if="cells"></td>
              <td><ReadingCell :fact="b.fact" what="the blank" :text="b.shown" /></td>
              <td></td>
              <td></td>
              <td class="no-print">
                <el-button
                  v-if="blank && i === view.blanks.length - 1"
                  link
                  type="primary"
                  size="small"
                  :disabled="busy"
                  @click="emit('decide', 'blank', blank.part ?? 0)"
                  >{{ blank.label }}</el-button
                >
              </td>
            </tr>
            <CorrectionHere :facts="[b.fact]" :columns="7" />
          </template>
          <template v-for="w in view.warmth" :key="w.fact">
            <tr>
              <th scope="row">{{ w.name }}</th>
              <td></td>
              <td v-if="cells"></td>
              <td><ReadingCell :fact="w.fact" :what="`the ${w.name.toLowerCase()}`" :text="w.shown" /></td>
              <td colspan="3"></td>
            </tr>
            <CorrectionHere :facts="[w.fact]" :columns="7" />
          </template>
          <VesselRow
            v-for="v in view.vessels"
            :key="v.part"
            :vessel="v"
            :offers="offers(v.part)"
            :cells="cells"
            :busy="busy"
            @decide="(choice, text) => emit('decide', choice, v.part, text)"
          />
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped src="@/design/readings.css"></style>
<style scoped>
.across {
  overflow-x: auto;
}
.says {
  margin: 0.3rem 0 0.6rem;
}
.unknowns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(17rem, 1fr));
  gap: 0 1.6rem;
}
th[scope='row'] {
  text-align: left;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 0.1rem 1rem;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
}
</style>
