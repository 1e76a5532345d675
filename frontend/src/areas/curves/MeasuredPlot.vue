<script setup lang="ts">
import { computed, ref } from 'vue'
import type { CurveView } from '@/api/client'
import { around } from '@/design/plot'
import SpeciesText from '@/design/SpeciesText.vue'
import TabRow from '@/design/TabRow.vue'
import XYPlot from '@/design/XYPlot.vue'

/** The readings on the curve that was predicted and the one that fits; the slope; and what the fit
 * leaves over. */
const props = defineProps<{ view: CurveView }>()
const shown = ref('curve')
const grans = computed(() => [props.view.before, props.view.after].filter((g) => g !== undefined))
const tabs = computed((): [string, string][] => [
  ['curve', 'Curve'],
  ...(props.view.slopes?.length ? [['slope', 'Derivative'] as [string, string]] : []),
  ...(grans.value.length ? [['gran', 'Gran'] as [string, string]] : []),
  ...(props.view.forms.length ? [['forms', 'Species'] as [string, string]] : []),
  ...(props.view.residuals.length ? [['rest', 'Off the curve'] as [string, string]] : []),
])
const at = computed(() => (tabs.value.some(([id]) => id === shown.value) ? shown.value : 'curve'))
const x = computed(() => ({
  from: 0,
  to: Math.max(1, ...props.view.predicted.map((p) => p.volume), ...props.view.readings.map((p) => p.volume)),
  words: 'mL added',
}))
const points = (list: { volume: number; pH: number }[]) => list.map((p): [number, number] => [p.volume, p.pH])
const rules = computed(() =>
  props.view.endPoints.map((e) => ({ axis: 'x' as const, at: e.volume, words: `${e.volume.toFixed(2)} mL` })),
)
const slopes = computed(() => (props.view.slopes ?? []).map((s): [number, number] => [s.volume, s.first]))
/** The lines of Gran, each from its readings to the volume that it points to. */
const granLines = computed(() =>
  grans.value.map((g) => {
    const ends = [g.from, g.to, g.volume]
    return {
      points: [Math.min(...ends), Math.max(...ends)].map((v): [number, number] => [v, g.slope * (v - g.volume)]),
    }
  }),
)
const styles = ['found', 'amber', 'theory', 'dotted-amber', 'beside'] as const
const drawn = ['solid', 'amber', 'dotted', 'dotted amber', 'grey']
const forms = computed(() =>
  props.view.forms.map((f, k) => ({
    points: f.shares.map((s, i): [number, number] => [props.view.predicted[i]!.volume, s]),
    as: styles[k % styles.length]!,
    says: drawn[k % drawn.length]!,
    formula: f.formula,
  })),
)
const widest = computed(() => Math.max(0.03, ...props.view.residuals.map((r) => Math.abs(r.pH))) * 1.15)
</script>

<template>
  <figure>
    <TabRow v-if="tabs.length > 1" v-model="shown" :tabs="tabs" label="What is plotted" class="no-print" />
    <XYPlot
      v-if="at === 'curve'"
      label="pH against what was added"
      :x="x"
      :y="{ from: 0, to: 14, words: 'pH' }"
      :lines="[{ points: points(view.predicted), as: 'theory' }, { points: points(view.fitted) }]"
      :rules="rules"
      :marks="[
        ...view.readings.map((p) => ({ at: [p.volume, p.pH] as const })),
        ...view.halves.map((h) => ({ at: [h.volume, h.pH] as const, as: 'amber' as const })),
      ]"
    />
    <XYPlot
      v-else-if="at === 'slope'"
      label="Slope of the curve"
      :x="x"
      :y="{ ...around([0, ...slopes.map((s) => s[1])]), words: 'ΔpH/mL' }"
      :lines="[{ points: slopes }]"
      :marks="slopes.map((s) => ({ at: s }))"
      :rules="rules"
    />
    <XYPlot
      v-else-if="at === 'gran'"
      label="Lines of Gran"
      :x="x"
      :y="{ from: 0, to: 1.1, words: 'of the largest' }"
      :lines="granLines"
      :marks="grans.flatMap((g) => g.points.map((p) => ({ at: [p.volume, p.value] as const })))"
      :rules="grans.map((g) => ({ axis: 'x' as const, at: g.volume, words: `${g.volume.toFixed(2)} mL` }))"
    />
    <XYPlot
      v-else-if="at === 'forms'"
      label="Forms of what is titrated"
      :x="x"
      :y="{ from: 0, to: 1, words: 'part of it' }"
      :lines="forms"
      :rules="rules"
    />
    <XYPlot
      v-else
      label="What the fit leaves over"
      :x="x"
      :y="{ from: -widest, to: widest, words: 'read less calculated, pH' }"
      :marks="view.residuals.map((r) => ({ at: [r.volume, r.pH] as const }))"
      :rules="[{ axis: 'y', at: 0, as: 'plain' }]"
    />
    <figcaption class="small soft">
      <template v-if="at === 'curve'"
        >Rings: as read. Line: the balance fitted; dotted: as predicted. Dashes: end points; amber rings: half
        way.</template
      >
      <template v-else-if="at === 'slope'">It is steepest at an end point.</template>
      <template v-else-if="at === 'gran'"
        >What is left before the end point, and what is too much after it, each as a part of its largest: both lines
        point to the end point.</template
      >
      <template v-else-if="at === 'forms'"
        ><template v-for="(f, i) in forms" :key="f.formula"
          >{{ i ? ', ' : '' }}<SpeciesText :text="f.formula" /> {{ f.says }}</template
        >; as predicted.</template
      >
      <template v-else>Scatter has no pattern; a bend has a cause.</template>
    </figcaption>
  </figure>
</template>

<style scoped src="@/design/plot.css"></style>
