<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BufferAnswer } from '@/api/client'
import FormulaText from '@/design/FormulaText.vue'

/** The systems that could serve, the best first, and the ways to make the one that is chosen. */
const props = defineProps<{ answer: BufferAnswer }>()
const emit = defineEmits<{ system: [key: string]; route: [id: string] }>()
const all = ref(false)
const few = 8
const shown = computed(() => {
  const list = props.answer.candidates
  if (all.value) return list
  const first = list.slice(0, few)
  const chosen = list.find((c) => c.key === props.answer.system)
  return chosen && !first.includes(chosen) ? [...first, chosen] : first
})
const signed = (v: number, digits: number) => `${v < 0 ? '−' : '+'}${Math.abs(v).toFixed(digits)}`
</script>

<template>
  <h2>Systems near this pH</h2>
  <div class="wide-table">
    <table>
      <thead>
        <tr>
          <th>System</th>
          <th>Pair</th>
          <th class="number">pKa</th>
          <th class="number">away</th>
          <th class="number">β, mmol/L per pH</th>
          <th class="number">pH per °C</th>
          <th>In the lab</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in shown" :key="c.key" :class="{ chosen: c.key === answer.system }">
          <td>
            <button
              type="button"
              class="pick"
              :disabled="c.routes === 0"
              :aria-pressed="c.key === answer.system"
              @click="emit('system', c.key)"
            >
              {{ c.name }}
            </button>
          </td>
          <td><FormulaText :pieces="c.acid" /> / <FormulaText :pieces="c.base" /></td>
          <td class="number">{{ c.pKa.toFixed(2) }}</td>
          <td class="number">{{ signed(c.away, 2) }}</td>
          <td class="number">{{ (1000 * c.beta).toFixed(1) }}</td>
          <td class="number">{{ signed(c.byDegree, 3) }}</td>
          <td>
            {{ c.routes === 0 ? 'nothing to make it with' : c.onShelf ? 'a stock on the shelf' : 'solids'
            }}{{ c.signal === 'Danger' ? ', hazardous' : '' }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <el-button v-if="answer.candidates.length > few" link type="primary" @click="all = !all">
    {{ all ? 'The first ones only' : `All ${answer.candidates.length}` }}
  </el-button>
  <h2>Ways to make it</h2>
  <ul class="ways" aria-label="Ways">
    <li v-for="w in answer.routes" :key="w.id" :class="{ chosen: w.id === answer.route }">
      <button
        type="button"
        class="pick"
        :disabled="!!w.problem"
        :aria-pressed="w.id === answer.route"
        @click="emit('route', w.id)"
      >
        {{ w.title }}
      </button>
      <span v-if="w.problem" class="small soft">{{ w.problem }}</span>
      <span v-else class="small soft figure">{{ w.acidAmount }} and {{ w.baseAmount }}</span>
    </li>
  </ul>
  <el-select
    v-if="answer.others.length"
    :model-value="''"
    filterable
    class="others"
    aria-label="Another way"
    :placeholder="`Another way: ${answer.others.length} more`"
    @change="(id: string) => emit('route', id)"
  >
    <el-option v-for="w in answer.others" :key="w.id" :value="w.id" :label="w.title" />
  </el-select>
</template>

<style scoped>
.others {
  max-width: 36rem;
  margin-top: 0.5rem;
}
h2 {
  margin-top: 1rem;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 0.25rem 0.9rem 0.25rem 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
}
th,
th.number {
  font-family: var(--text);
  color: var(--ink-soft);
  font-size: 0.87rem;
}
.number {
  text-align: right;
  font-family: var(--mono);
}
.wide-table {
  overflow-x: auto;
}
.chosen td:first-child,
.ways .chosen {
  box-shadow: inset 3px 0 0 var(--green);
  padding-left: 0.6rem;
}
.pick {
  font: inherit;
  color: var(--green);
  background: none;
  border: 0;
  padding: 0.15rem 0;
  min-height: 24px;
  text-align: left;
  cursor: pointer;
}
.pick:disabled {
  color: var(--ink-soft);
  cursor: default;
}
.pick[aria-pressed='true'] {
  font-weight: 700;
}
.ways {
  list-style: none;
  padding: 0;
  margin: 0 0 1rem;
}
.ways li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 0.8rem;
  padding: 0.1rem 0;
}
</style>
