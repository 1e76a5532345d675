<script setup lang="ts">
import { computed } from 'vue'
import type { CurveAnswer } from '@/api/client'
import XYPlot from '@/design/XYPlot.vue'

/** The pH as it is predicted, with the band in which the indicator that serves best turns. */
const props = defineProps<{ curve: CurveAnswer }>()
const farthest = computed(() => Math.max(...props.curve.points.map((p) => p.volume)))
const bands = computed(() =>
  props.curve.equivalences.flatMap((e) => (e.indicators[0] ? [{ ...e.indicators[0], volume: e.volume }] : [])),
)
</script>

<template>
  <figure>
    <XYPlot
      label="pH against what is added, as predicted"
      :x="{ from: 0, to: farthest, words: 'mL added' }"
      :y="{ from: 0, to: 14, words: 'pH' }"
      :lines="[{ points: curve.points.map((p) => [p.volume, p.pH]) }]"
      :bands="bands.map((b) => ({ axis: 'y', from: b.from, to: b.to, colours: b.colours }))"
      :rules="curve.equivalences.map((e) => ({ axis: 'x', at: e.volume, words: `${e.volume.toFixed(1)} mL` }))"
    />
    <figcaption class="small soft">
      As predicted.
      <template v-for="b in bands" :key="b.volume"
        >Band: {{ b.name }}, {{ b.words[0] }} to {{ b.words.at(-1) }}, pH {{ b.from.toFixed(1) }} to
        {{ b.to.toFixed(1) }}.
      </template>
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
