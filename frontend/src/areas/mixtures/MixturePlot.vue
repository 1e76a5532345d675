<script setup lang="ts">
import { computed } from 'vue'
import type { MixtureView } from '@/api/client'
import XYPlot from '@/design/XYPlot.vue'

/** What each wavelength allows: a line in the plane of the two concentrations. The sample is where they cross. */
const props = defineProps<{ view: MixtureView; sample: MixtureView['samples'][number] }>()
const reach = (of: number) => {
  const { c, u } = props.sample.held[of]!
  return { from: Math.min(0, c - 2 * u), to: 2 * Math.max(Math.abs(c), u) || 1 }
}
const x = computed(() => ({ ...reach(0), words: `${props.view.names[0]}, ${props.view.units[0]}` }))
const y = computed(() => ({ ...reach(1), words: `${props.view.names[1]}, ${props.view.units[1]}` }))
/** A line through the drawing, steep or flat: it is cut off at the frame. */
const lines = computed(() =>
  props.sample.equations.map((e, i) => {
    const { c } = props.sample.held[0]!
    const d = props.sample.held[1]!.c
    // Along the line the readings stay the same: (second, −first), as far as the drawing reaches.
    const far =
      2 *
      Math.max(
        (x.value.to - x.value.from) / Math.max(Math.abs(e.second), 1e-300),
        (y.value.to - y.value.from) / Math.max(Math.abs(e.first), 1e-300),
      )
    const at = (t: number): [number, number] => [c + t * e.second, d - t * e.first]
    return { points: [at(-far), at(far)], as: i ? ('dotted-amber' as const) : ('found' as const) }
  }),
)
const marks = computed(() => {
  const [first, second] = props.sample.held
  return [{ at: [first!.c, second!.c] as const, ux: first!.u, u: second!.u, as: 'dot' as const }]
})
const label = computed(
  () => `${props.sample.name}: ${props.sample.held.map((h, i) => `${props.view.names[i]} ${h.text}`).join(', ')}`,
)
</script>

<template>
  <figure>
    <XYPlot :label="label" :x="x" :y="y" :lines="lines" :marks="marks" :most="320" />
    <figcaption class="small soft">
      {{ sample.name }}: what the reading at <span class="found">{{ view.wavelengths[0] }} nm</span> allows, and that at
      <span class="amber">{{ view.wavelengths[1] }} nm</span> (dotted). Both hold where they cross.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0 0 1rem;
}
.found {
  color: var(--green);
  font-weight: 700;
}
.amber {
  color: var(--amber);
  font-weight: 700;
}
</style>
