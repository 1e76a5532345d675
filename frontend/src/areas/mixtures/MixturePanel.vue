<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import ReadingCell from '@/bench/ReadingCell.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'
import { clock } from '@/design/time'
import MixturePlot from './MixturePlot.vue'

/** What every sample holds of both, and the readings that say so. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string]; decide: [choice: string, part: number] }>()
const view = computed(() => (props.run.outcome.view.kind === 'mixture' ? props.run.outcome.view : undefined))
const figureOf = (id: string) => props.run.outcome.figures.find((f) => f.id === id)
/** The place of a reading: the samples at the first wavelength, then at the second. */
const part = (sample: number, at: number) => at * view.value!.samples.length + sample
const again = (sample: number, at: number) =>
  props.run.outcome.offers.find((o) => o.id === 'again' && (o.part ?? 0) === part(sample, at))
const short = (x: number) => String(Number(x.toPrecision(3))).replace('-', '−')
const isOpen = computed(() => props.run.outcome.status === 'open')
</script>

<template>
  <div v-if="view">
    <p v-if="view.not" class="problem">{{ view.not }}</p>
    <template v-else>
      <table v-if="view.slopes.length" aria-label="Slopes of the lines">
        <thead>
          <tr>
            <th></th>
            <th v-for="nm in view.wavelengths" :key="nm">{{ nm }} nm</th>
            <th class="unit">AU per</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(of, i) in view.slopes" :key="i">
            <th scope="row">{{ view.names[i] }}</th>
            <td v-for="(slope, at) in of" :key="at">{{ short(slope) }}</td>
            <td class="unit">{{ view.units[i] }}</td>
          </tr>
        </tbody>
      </table>
      <p class="small">{{ view.says }}</p>
    </template>
    <p v-if="!view.not && !view.samples.some((s) => s.held.length)" class="soft">
      What a sample holds of {{ view.names[0] }} and of {{ view.names[1] }} stands here when it was read at both
      wavelengths.
    </p>
    <section v-for="s in view.samples.filter((s) => s.held.length)" :key="s.name" :aria-label="s.name">
      <h3>{{ s.name }}</h3>
      <dl>
        <template v-for="(h, i) in s.held" :key="h.figure">
          <dt>{{ view.names[i] }}</dt>
          <dd>
            <FigureText
              v-if="figureOf(h.sample || h.figure)"
              :figure="figureOf(h.sample || h.figure)!"
              large
              @explain="(id) => emit('explain', id)"
            />
            <span v-if="h.sample" class="small soft"> as it was read: {{ h.text }}</span>
          </dd>
        </template>
      </dl>
      <template v-if="!isOpen">
        <VerdictLine v-for="v in s.verdicts" :key="v.sentence" :verdict="v" />
      </template>
      <MixturePlot :view="view" :sample="s" />
    </section>
    <table v-if="view.blanks.some((b) => b.length)" aria-label="Readings">
      <thead>
        <tr>
          <th>what</th>
          <th>nm</th>
          <th>shown</th>
          <th>A</th>
          <th>%T</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(blanks, at) in view.blanks" :key="at">
          <template v-for="b in blanks" :key="b.fact">
            <tr>
              <th scope="row">Blank, {{ clock(b.at) }}</th>
              <td>{{ view.wavelengths[at] }}</td>
              <td>
                <ReadingCell :fact="b.fact" :what="`the blank at ${view.wavelengths[at]} nm`" :text="b.shown" />
              </td>
              <td></td>
              <td></td>
              <td></td>
            </tr>
            <CorrectionHere :facts="[b.fact]" :columns="6" />
          </template>
        </template>
        <template v-for="(s, i) in view.samples" :key="i">
          <template v-for="(readings, at) in s.readings" :key="at">
            <template v-for="(r, k) in readings" :key="r.fact">
              <tr>
                <th scope="row">{{ s.name }}</th>
                <td>{{ view.wavelengths[at] }}</td>
                <td>
                  <ReadingCell :fact="r.fact" :what="`${s.name} at ${view.wavelengths[at]} nm`" :text="r.shown" />
                </td>
                <td>{{ r.aText }}</td>
                <td>{{ r.tText }}</td>
                <td class="no-print does">
                  <el-button
                    v-if="again(i, at) && k === readings.length - 1"
                    link
                    type="primary"
                    size="small"
                    :aria-label="again(i, at)!.label"
                    :disabled="busy"
                    @click="emit('decide', 'again', part(i, at))"
                    >Once more</el-button
                  >
                </td>
              </tr>
              <CorrectionHere :facts="[r.fact]" :columns="6" />
            </template>
          </template>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped src="@/design/readings.css"></style>
<style scoped>
th[scope='row'] {
  text-align: left;
  color: var(--ink);
  overflow-wrap: anywhere;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 0.1rem 1rem;
  align-items: baseline;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
}
.unit {
  text-align: left;
}
.does {
  font-family: var(--text);
}
</style>
