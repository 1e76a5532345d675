<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Run } from '@/api/client'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import ReadingCell from '@/bench/ReadingCell.vue'
import { useForm } from '@/bench/useForm'
import FigureText from '@/design/FigureText.vue'
import { clock } from '@/design/time'
import PHChart from './PHChart.vue'

/** The log so far: each sample with its pH, its temperature, and the objections to it. */
const { busy: taking, says, fields, send } = useForm()
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string]; decide: [choice: string, part: number] }>()
const view = computed(() => (props.run.outcome.view.kind === 'readings' ? props.run.outcome.view : undefined))
const gravest = (verdicts: { level: string }[] | null) =>
  (['stop', 'look'] as const).find((level) => verdicts?.some((v) => v.level === level))
/** Samples from a table go on record as if each had been typed. */
async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const body = await input.files?.[0]?.text()
  input.value = ''
  if (body === undefined) return
  const id = props.run.summary.id
  await send(() =>
    ask(
      api.POST('/runs/{id}/table', {
        params: { path: { id } },
        body,
        bodySerializer: (text: string) => text,
        headers: { 'Content-Type': 'text/plain' },
      }),
    ),
  )
}
const words = { stop: 'Stop', look: 'Look' }
</script>

<template>
  <div v-if="view">
    <p v-if="view.rows.length === 0" class="soft">Each reading will stand here, with its pH and its doubts.</p>
    <PHChart :rows="view.rows" :low="view.low" :high="view.high" />
    <ol v-if="view.rows.length" aria-label="Readings">
      <li v-for="row in view.rows" :key="row.fact" :class="{ check: row.check }">
        <p class="first">
          <span class="name">
            <svg
              v-if="gravest(row.verdicts)"
              class="mark"
              :class="gravest(row.verdicts)"
              viewBox="0 0 16 16"
              role="img"
              :aria-label="words[gravest(row.verdicts)!]"
            >
              <path v-if="gravest(row.verdicts) === 'look'" d="M8 1.500 15 14H1Z" />
              <path v-else d="M2 2h12v12H2Z" />
            </svg>
            {{ row.check ? `Check: ${row.sample}` : row.sample }}
          </span>
          <span v-if="row.refused" class="refused" :class="{ soft: row.method }">{{ row.method || 'no pH' }}</span>
          <span v-else class="pH">pH <FigureText :figure="row.pH" @explain="(id) => emit('explain', id)" /></span>
        </p>
        <p class="small soft">
          <span class="figure"><ReadingCell :fact="row.fact" :what="row.sample" :text="row.shown || 'as seen'" /></span
          ><template v-if="row.celsius">, {{ row.celsius }} °C</template
          ><template v-if="row.method && !row.refused">, {{ row.method }}</template
          ><template v-if="row.note">, {{ row.note }}</template
          >, {{ clock(row.at) }}
        </p>
        <p
          v-for="v in (row.verdicts ?? []).filter((v) => v.level !== 'fine' || row.check || row.method)"
          :key="v.sentence"
          class="small"
          :class="v.level"
        >
          {{ v.sentence }} <span class="soft">Rule {{ v.rule }}</span>
        </p>
        <CorrectionHere :facts="[row.fact]" />
      </li>
    </ol>
    <label v-if="run.outcome.status === 'open'" class="table no-print small soft"
      >From a table (CSV with the columns sample, shown, °C, note)<input
        type="file"
        accept="text/csv,.csv,.tsv,.txt"
        :disabled="taking"
        @change="take"
    /></label>
    <template v-if="says">
      <p class="problem small" role="alert">Nothing was taken in.</p>
      <ul class="problem small">
        <li v-for="[field, reason] in fields" :key="field">
          Line {{ field.split('/')[1] }}, {{ field.split('/').slice(2).join('/') }}: {{ reason }}
        </li>
        <li v-if="fields.size === 0">{{ says }}</li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  border-bottom: 1px solid var(--line);
  padding: 0.4rem 0;
}
li p {
  margin: 0.1rem 0;
}
.first {
  display: flex;
  justify-content: space-between;
  gap: 0.8rem;
}
.name {
  font-weight: 600;
  overflow-wrap: anywhere;
}
.check .name {
  font-weight: 400;
  color: var(--ink-soft);
}
.pH {
  white-space: nowrap;
}
.refused {
  color: var(--red);
}
.refused.soft {
  color: var(--ink-soft);
}
.table {
  display: block;
  margin-top: 0.8rem;
}
.table input {
  display: block;
  margin-top: 0.2rem;
  max-width: 100%;
}
.stop {
  color: var(--red);
}
.look {
  color: var(--amber);
}
.mark {
  width: 0.85rem;
  height: 0.85rem;
}
.mark.look {
  fill: var(--amber);
}
.mark.stop {
  fill: var(--red);
}
</style>
