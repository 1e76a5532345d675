<script setup lang="ts">
import { computed } from 'vue'
import type { ClassResults } from '@/api/client'
import { around } from '@/design/plot'
import XYPlot from '@/design/XYPlot.vue'

/** Each group beside what its bottle held: percent errors where that is known, else the results themselves. */
const props = defineProps<{ of: ClassResults }>()
const errors = computed(() => props.of.results.some((r) => r.row?.error !== undefined))
const marks = computed(() =>
  props.of.results.flatMap((r) => {
    const at = errors.value ? r.row?.error : r.value
    if (at === undefined) return []
    const u = (r.U ?? 0) * (errors.value && r.held ? 100 / Math.abs(r.held) : 1)
    return [
      { at: [r.group, at] as const, as: r.row?.off ? ('doubt' as const) : ('dot' as const), ...(u > 0 ? { u } : {}) },
    ]
  }),
)
/** The class by algorithm A, on the axis that is drawn: of one bottle for all, as percent errors too. */
const middle = computed(() => {
  const c = props.of.compared
  if (!c || c.algorithmA.sd === 0) return undefined
  const held = props.of.results[0]?.held
  if (!errors.value || c.of !== 'results' || !held) return c.algorithmA
  return { mean: (100 * (c.algorithmA.mean - held)) / held, sd: (100 * c.algorithmA.sd) / Math.abs(held) }
})
/** The scale is that of the bulk of the class: what is far off is drawn at its edge, and stands in the table. */
const stretch = computed(() => {
  const all = marks.value.map((m) => m.at[1])
  const zero = errors.value ? [0] : []
  const a = middle.value
  if (!a) return around([...all, ...zero], 0.15)
  const reach = Math.max(8 * a.sd, errors.value ? Math.abs(a.mean) * 1.3 : 0)
  const near = marks.value
    .filter((m) => Math.abs(m.at[1] - a.mean) <= reach)
    .flatMap((m) => [m.at[1] - (m.u ?? 0), m.at[1] + (m.u ?? 0)])
  return around([...near, ...zero, a.mean - 3 * a.sd, a.mean + 3 * a.sd], 0.1)
})
const shown = computed(() => {
  const { from, to } = stretch.value
  return marks.value.map((m) => ({
    ...m,
    ...(m.at[1] > to || m.at[1] < from
      ? { at: [m.at[0], Math.min(Math.max(m.at[1], from), to)] as const, as: 'ring' as const, u: 0 }
      : {}),
  }))
})
const outside = computed(() => marks.value.filter((m, i) => m.at[1] !== shown.value[i]!.at[1]).length)
const groups = computed(() => props.of.results.map((r) => r.group))
const bands = computed(() => {
  const a = middle.value
  if (!a) return []
  const [from, to] = [a.mean - 2 * a.sd, a.mean + 2 * a.sd]
  return [{ axis: 'y' as const, from, to, words: 'the class, ± 2 s', as: 'useful' as const }]
})
</script>

<template>
  <XYPlot
    label="The results of the groups"
    :x="{ from: Math.min(...groups) - 0.6, to: Math.max(...groups) + 0.6, words: 'group' }"
    :y="{ ...stretch, words: errors ? 'percent error' : of.task.unit }"
    :marks="shown"
    :bands="bands"
    :rules="errors ? [{ axis: 'y', at: 0, words: 'what the bottle held', as: 'plain' }] : []"
    :ratio="0.42"
  />
  <p v-if="outside" class="small soft">
    {{ outside === 1 ? 'One result lies' : `${outside} results lie` }} beyond the scale, drawn as a ring at its edge:
    see the table.
  </p>
</template>
