<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import VerdictLine from '@/bench/VerdictLine.vue'
import FigureText from '@/design/FigureText.vue'

/** What the counts give, with each of them as a bar beside the mean. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const view = computed(() => (props.run.outcome.view.kind === 'droptip' ? props.run.outcome.view : undefined))
const mean = computed(() => props.run.outcome.figures[0]?.value ?? 0)

/** The strip goes from 10 % below the mean to 10 % above, or as far as the counts do. */
const reach = computed(() =>
  Math.max(0.1, ...(view.value?.counts ?? []).map((c) => Math.abs(Number(c.each) / mean.value - 1) * 1.1)),
)
const x = (mL: number) => 130 + ((mL / mean.value - 1) / reach.value) * 110
</script>

<template>
  <div v-if="view">
    <p v-if="!view.counts.length" class="small soft">
      Each count will stand here, and the volume of a drop. Until then a drop counts as about 0.05 mL.
    </p>
    <template v-else>
      <p class="main">
        <FigureText :figure="run.outcome.figures[0]!" large @explain="(id) => emit('explain', id)" />
      </p>
      <p class="small soft">{{ run.outcome.figures[0]!.label }}</p>
      <p v-for="f in run.outcome.figures.slice(1)" :key="f.id">
        <FigureText :figure="f" @explain="(id) => emit('explain', id)" /> <span class="small soft">{{ f.label }}</span>
      </p>
      <svg
        :viewBox="`0 0 260 ${24 + 18 * view.counts.length}`"
        role="img"
        :aria-label="`Counts beside their mean, ±${(100 * reach).toFixed(0)} %`"
      >
        <line x1="130" x2="130" y1="4" :y2="8 + 18 * view.counts.length" class="mean" />
        <g v-for="(c, i) in view.counts" :key="i">
          <line x1="20" x2="240" :y1="14 + 18 * i" :y2="14 + 18 * i" class="strip" />
          <circle :cx="x(Number(c.each))" :cy="14 + 18 * i" r="5" class="count" />
          <text x="4" :y="18 + 18 * i">{{ i + 1 }}</text>
        </g>
        <text x="20" :y="20 + 18 * view.counts.length">−{{ (100 * reach).toFixed(0) }} %</text>
        <text x="240" :y="20 + 18 * view.counts.length" text-anchor="end">+{{ (100 * reach).toFixed(0) }} %</text>
      </svg>
      <table aria-label="Counts">
        <thead>
          <tr>
            <th>count</th>
            <th>drops</th>
            <th>came to</th>
            <th>mL a drop</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(c, i) in view.counts" :key="i">
            <td>{{ i + 1 }}</td>
            <td>{{ c.drops }}</td>
            <td>{{ c.read }}</td>
            <td>{{ c.each }}</td>
          </tr>
        </tbody>
      </table>
      <template v-if="run.outcome.status !== 'open'">
        <VerdictLine v-for="v in view.verdicts" :key="v.sentence" :verdict="v" />
      </template>
    </template>
  </div>
</template>

<style scoped src="@/design/readings.css"></style>
<style scoped>
.main {
  margin: 0;
}
svg {
  width: 100%;
  max-width: 20rem;
  font: 10px var(--mono);
  fill: var(--ink-soft);
}
.mean {
  stroke: var(--green);
  stroke-dasharray: 4 3;
}
.strip {
  stroke: var(--line);
}
.count {
  fill: var(--liquid);
  stroke: var(--green);
}
</style>
