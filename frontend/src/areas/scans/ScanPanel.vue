<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Run } from '@/api/client'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import ReadingCell from '@/bench/ReadingCell.vue'
import { useForm } from '@/bench/useForm'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'
import OverlayFields from './OverlayFields.vue'
import ScanPlot from './ScanPlot.vue'
import { useOverlay } from './useOverlay'

/** The scan as it grows, the colours that go with its maxima, and the readings. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const view = computed(() => (props.run.outcome.view.kind === 'scan' ? props.run.outcome.view : undefined))
const { says, send } = useForm()
const over = useOverlay(
  () => props.run.summary.id,
  () => view.value,
)

/** Writes the points as a file of an open form. */
async function save(write: 'affn' | 'difdup' | 'csv') {
  const { x, y } = view.value!
  const spectra = [{ title: props.run.plan.title, xUnit: 'nm', yUnit: 'absorbance', x, y }]
  await send(async () => {
    const { text } = await ask(api.POST('/compute/spectrum', { body: { spectra, write } }))
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([text ?? ''], { type: 'text/plain' }))
    link.download = `scan-${props.run.summary.number}.${write === 'csv' ? 'csv' : 'jdx'}`
    link.click()
    setTimeout(() => URL.revokeObjectURL(link.href), 1000)
  })
}
</script>

<template>
  <div v-if="view">
    <ScanPlot v-if="view.x.length" :view="view" :others="over.compared.value ? [over.compared.value] : []" />
    <p v-else class="soft">The readings will stand here, joined by a curve, with the maximum between them.</p>
    <p v-for="f in run.outcome.figures" :key="f.id">
      <FigureText :figure="f" large @explain="(id) => emit('explain', id)" />
      <span class="small soft label">{{ f.label }}</span>
    </p>
    <p v-for="p in (view.answer?.peaks ?? []).filter((p) => p.absorbed)" :key="p.x" class="small">
      At {{ p.x.toFixed(0) }} nm it takes out {{ p.absorbed }} light. What is left looks {{ p.seen }}, unless it absorbs
      elsewhere too.
    </p>
    <template v-if="run.outcome.status !== 'open'">
      <VerdictLine v-for="v in view.answer?.verdicts ?? []" :key="v.sentence" :verdict="v" />
    </template>
    <OverlayFields v-if="view.x.length > 1" :over="over" class="no-print" />
    <p v-if="view.x.length > 1" class="small no-print files">
      As a file:
      <el-button link type="primary" size="small" @click="save('difdup')">JCAMP-DX</el-button>
      <el-button link type="primary" size="small" @click="save('affn')">JCAMP-DX, plain figures</el-button>
      <el-button link type="primary" size="small" @click="save('csv')">CSV</el-button>
    </p>
    <p v-if="says" class="problem small" role="alert">{{ says }}</p>
    <table v-if="view.readings.length" aria-label="Readings">
      <thead>
        <tr>
          <th>nm</th>
          <th>shown</th>
          <th>A</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="r in view.readings" :key="r.fact">
          <tr>
            <td>{{ r.x }}</td>
            <td><ReadingCell :fact="r.fact" :what="`${r.x} nm`" :text="r.shown" /></td>
            <td>{{ r.y.toFixed(3) }}</td>
          </tr>
          <CorrectionHere :facts="[r.fact]" :columns="3" />
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped src="@/design/readings.css"></style>
<style scoped>
.label {
  margin-left: 0.6rem;
}
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.9rem;
  align-items: baseline;
}
</style>
