<script setup lang="ts">
import { computed } from 'vue'
import type { ScanView } from '@/api/client'
import { around } from '@/design/plot'
import XYPlot from '@/design/XYPlot.vue'

/** The readings over the wavelengths, joined, with what was found between them; and other scans under them. */
const props = defineProps<{ view: ScanView; others?: { title: string; x: number[]; y: number[] }[] }>()
const joined = computed(() => {
  const a = props.view.answer
  const list = a && props.view.x.length <= 200 ? [a.curveX, a.curveY] : [props.view.x, props.view.y]
  return list[0]!.map((x, i): [number, number] => [x, list[1]![i]!])
})
const peaks = computed(() => props.view.answer?.peaks ?? [])
const x = computed(() => {
  const all = [...props.view.x, ...(props.others ?? []).flatMap((o) => o.x)]
  return { ...(all.length ? around(all, 0.02) : { from: 400, to: 800 }), words: 'nm' }
})
const y = computed(() => {
  const all = [0, ...props.view.y, ...(props.others ?? []).flatMap((o) => o.y), ...peaks.value.map((p) => p.y)]
  return { ...around(all.length > 1 ? all : [0, 1], 0.06), words: 'absorbance' }
})
const styles = ['amber', 'dotted-amber', 'beside'] as const
const lines = computed(() => [
  { points: joined.value },
  ...(props.others ?? []).map((o, i) => ({
    points: o.x.map((x, k): [number, number] => [x, o.y[k]!]),
    as: styles[i % styles.length]!,
  })),
])
const rules = computed(() => [
  ...peaks.value.map((p) => ({ axis: 'x' as const, at: p.x, words: `${p.x.toFixed(0)} nm` })),
  ...(props.view.chosen ? [{ axis: 'x' as const, at: props.view.chosen, words: 'chosen', as: 'plain' as const }] : []),
])
</script>

<template>
  <XYPlot
    label="Absorbance over the wavelength"
    :x="x"
    :y="y"
    :lines="lines"
    :marks="view.x.length <= 200 ? view.x.map((x, i) => ({ at: [x, view.y[i]!] as const, as: 'ring' as const })) : []"
    :rules="rules"
  />
</template>
