<script setup lang="ts">
import type { DilutionAnswer } from '@/api/client'

/** The ways there with the glass of the lab, to choose from; and the same concentrations
 * made in other ways. */
defineProps<{ answer: DilutionAnswer }>()
const route = defineModel<number>('route', { required: true })
const percent = (x: number) => `${Number((100 * x).toPrecision(2))} %`
</script>

<template>
  <template v-if="answer.routes">
    <h2>Ways there, with the glass of the lab</h2>
    <table class="plain">
      <thead>
        <tr>
          <th></th>
          <th>Glass</th>
          <th class="r">1 in</th>
          <th class="r">±, k = 2</th>
          <th class="r">liquid, mL</th>
          <th class="r">stock, mL</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in answer.routes" :key="i" :class="{ at: i === route }">
          <td>
            <input
              :id="`route${i}`"
              v-model="route"
              type="radio"
              name="route"
              :value="i"
              :aria-label="`Way ${i + 1}`"
            />
          </td>
          <td>
            <label :for="`route${i}`">
              <span v-for="(s, k) in r.stages" :key="k"
                >{{ k ? ', then ' : '' }}{{ Number(s.taken.toPrecision(5)) }} mL ({{ s.with.kind
                }}{{ s.times > 1 ? `, filled ${s.times} times` : '' }}) to {{ s.flask.volume }} mL</span
              >
              <span v-if="r.front" class="small soft"> · none is better in every way</span>
            </label>
          </td>
          <td class="figure r">{{ Number(r.factor.toPrecision(6)) }}</td>
          <td class="figure r">{{ percent(r.relative) }}</td>
          <td class="figure r">{{ r.liquid }}</td>
          <td class="figure r">{{ Number(r.stock.toPrecision(4)) }}</td>
        </tr>
      </tbody>
    </table>
  </template>
  <template v-if="answer.compare">
    <h2>The same concentrations, made in other ways</h2>
    <table class="plain">
      <thead>
        <tr>
          <th>Way</th>
          <th class="r">worst ±, k = 2</th>
          <th class="r">liquid, mL</th>
          <th class="r">stock, mL</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="w in answer.compare" :key="w.name">
          <td>{{ w.name }}</td>
          <template v-if="!w.says">
            <td class="figure r">{{ percent(w.worst) }}</td>
            <td class="figure r">{{ Number(w.liquid.toPrecision(4)) }}</td>
            <td class="figure r">{{ Number(w.stock.toPrecision(4)) }}</td>
          </template>
          <td v-else colspan="3" class="small soft">{{ w.says }}</td>
        </tr>
      </tbody>
    </table>
  </template>
</template>

<style scoped>
.at {
  background: var(--green-tint);
}
.r {
  text-align: right !important;
}
</style>
