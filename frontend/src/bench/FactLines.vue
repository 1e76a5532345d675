<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Fact, FactLine, Step } from '@/api/client'
import { clock, when } from '@/design/time'
import FactCorrection from './FactCorrection.vue'

/** The facts of a step that is done: who, when, what; corrected ones struck
 * through with the reason; and the way to correct. */
const props = defineProps<{ step: Step; facts: FactLine[] }>()

/** The fact that is dealt with, and how. */
const open = ref<{ id: string; withdraws: boolean }>()

/** Each standing fact, with what it replaced before it. */
const lines = computed(() => {
  const byId = new Map(props.facts.map((line) => [line.fact.id, line]))
  return (props.step.facts ?? []).flatMap((id) => {
    const standing = byId.get(id)
    if (!standing) return []
    const chain: { line: FactLine; by?: Fact }[] = [{ line: standing }]
    for (let at = standing; at.fact.replaces;) {
      const old = byId.get(at.fact.replaces)
      if (!old) break
      chain.unshift({ line: old, by: at.fact })
      at = old
    }
    return chain
  })
})
</script>

<template>
  <ul class="facts">
    <li v-for="{ line, by } in lines" :key="line.fact.id">
      <component :is="by ? 's' : 'span'">{{ line.sentence }}</component>
      <span class="soft small"> {{ line.fact.by }} {{ clock(line.fact.at) }}</span>
      <span v-if="line.recorded" class="small late"> recorded {{ when(line.recorded) }}</span>
      <span v-if="by" class="small reason"> corrected by {{ by.by }}: {{ by.reason }}</span>
      <span v-else class="ways no-print">
        <el-button
          v-if="line.fact.kind !== 'decided'"
          link
          type="primary"
          @click="open = { id: line.fact.id, withdraws: false }"
          >Correct</el-button
        >
        <el-button link type="primary" @click="open = { id: line.fact.id, withdraws: true }">Take back</el-button>
      </span>
      <FactCorrection
        v-if="!by && open?.id === line.fact.id"
        :key="String(open.withdraws)"
        :fact="line.fact"
        :withdraws="open.withdraws"
        @leave="open = undefined"
      />
    </li>
  </ul>
</template>

<style scoped>
.late {
  color: var(--amber);
}
li > .small {
  margin-left: 0.6em;
}
.facts {
  list-style: none;
  margin: 0.3rem 0 0.3rem;
  padding: 0;
}
li {
  padding: 0.15rem 0;
  overflow-wrap: anywhere;
}
.ways {
  display: inline-flex;
  gap: 1rem;
  margin-left: 0.9rem;
}
.reason {
  color: var(--amber);
}
</style>
