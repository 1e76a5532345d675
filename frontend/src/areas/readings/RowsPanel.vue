<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import FigureText from '@/design/FigureText.vue'
import { clock } from '@/design/time'
import PHChart from './PHChart.vue'

/** The log so far: each sample with its pH, its temperature, and what speaks against it. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string]; decide: [choice: string, part: number] }>()
const view = computed(() => (props.run.outcome.view.kind === 'readings' ? props.run.outcome.view : undefined))
const gravest = (verdicts: { level: string }[] | null) =>
  (['stop', 'look'] as const).find((level) => verdicts?.some((v) => v.level === level))
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
          <span class="figure">{{ row.shown }}</span><template v-if="row.celsius">, {{ row.celsius }} °C</template
          ><template v-if="row.method && !row.refused">, {{ row.method }}</template
          ><template v-if="row.note">, {{ row.note }}</template
          >{{ row.shown || row.note ? ', ' : '' }}{{ clock(row.at) }}
        </p>
        <p
          v-for="v in (row.verdicts ?? []).filter((v) => v.level !== 'fine' || row.check || row.method)"
          :key="v.sentence"
          class="small"
          :class="v.level"
        >
          {{ v.sentence }} <span class="soft">Rule {{ v.rule }}</span>
        </p>
      </li>
    </ol>
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
