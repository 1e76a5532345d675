<script setup lang="ts">
import { computed } from 'vue'
import type { CapacityView } from '@/api/client'
import XYPlot from '@/design/XYPlot.vue'
import type { PlotLine, PlotMark } from '@/design/plot'

/** pH against what was added: theory as lines, the readings on them, water beside. */
const props = defineProps<{ beakers: CapacityView['beakers'] }>()
const farthest = computed(() => Math.max(0.1, ...props.beakers.flatMap((b) => b.curve.added ?? [])))
const all = computed(() => props.beakers.flatMap((b) => [...(b.curve.pH ?? []), ...b.rows.map((r) => r.value)]))
const lines = computed(() =>
  props.beakers.map((b): PlotLine => ({
    points: (b.curve.added ?? []).map((v, i) => [v, b.curve.pH![i]!] as const),
    as: b.acid ? (b.water ? 'dotted-amber' : 'amber') : b.water ? 'theory' : 'found',
  })),
)
const marks = computed(() =>
  props.beakers.flatMap((b) =>
    b.rows.map((r): PlotMark => ({ at: [r.mL, r.value], as: b.water ? 'square' : b.acid ? 'amber' : 'ring' })),
  ),
)
</script>

<template>
  <figure>
    <XYPlot
      label="pH against what was added"
      :x="{ from: 0, to: farthest, words: 'mL added' }"
      :y="{ from: Math.floor(Math.min(6, ...all)), to: Math.ceil(Math.max(8, ...all)), words: 'pH' }"
      :lines="lines"
      :marks="marks"
    />
    <figcaption class="small soft">
      Lines: theory, dotted of water; amber with acid. Rings: the buffer as read; squares: the water.
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
