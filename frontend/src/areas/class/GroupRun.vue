<script setup lang="ts">
import { computed, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import { newId } from '@/api/id'
import { useOutbox } from '@/api/outbox'
import { provideCorrecting } from '@/bench/correcting'
import { useLive } from '@/bench/live'
import RunFoot from '@/bench/RunFoot.vue'
import RunSheet from '@/bench/RunSheet.vue'
import { useRun } from '@/bench/useRun'
import { useWorking } from '@/bench/useWorking'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import SpeciesText from '@/design/SpeciesText.vue'
import HandIn from './HandIn.vue'
import { useSheet } from './sheet'

/** A task of a group as a run sheet. What is computed from its figures is shown once it has handed its own result in. */
const props = defineProps<{ task: string; id: string }>()
const outbox = useOutbox()
const own = useSheet()
const { run, carried, kept, trouble, says, problems, about, busy, refused, look, state } = useRun(
  () => props.id,
  () => void refresh(),
)
provideCorrecting({ run, busy, problems, about, state: (fact) => void state(fact) })
/** What stands connected on the bench of the group shows its reading in the step that asks for it. */
const instrument = computed(() => run.value?.outcome.steps.find((s) => s.state === 'now')?.instrument)
useLive().follow(computed(() => own.sheet?.connected.find((c) => c.name === instrument.value)))
const task = computed(() => own.sheet?.tasks.find((t) => t.id === props.task))
const figures = computed(() => run.value?.outcome.figures ?? [])
const { working, explain, refresh, close } = useWorking(
  () => figures.value[0]?.id ?? '',
  async (figure) => ({
    title: figures.value.find((f) => f.id === figure)?.label ?? '',
    lines: await ask(api.GET('/runs/{id}/working', { params: { path: { id: props.id }, query: { figure } } })),
  }),
  says,
)
async function addNote(text: string): Promise<boolean> {
  if (!busy.value) {
    await state({ kind: 'note', text })
    return !says.value
  }
  void outbox.send(props.id, { kind: 'note', text, id: newId() }).then(look, () => undefined)
  return true
}
// What was handed in opens what the figures give.
watch(
  () => task.value?.stated,
  (is, was) => is !== was && void look(),
)
</script>

<template>
  <p><RouterLink to="/class">All tasks</RouterLink></p>
  <p v-if="trouble" class="problem" role="alert">
    {{ trouble }} <el-button link type="primary" @click="look">Look again</el-button>
  </p>
  <p v-if="!run && !trouble" class="soft">Opening the sheet…</p>
  <template v-if="run">
    <h1><SpeciesText :text="task?.title ?? run.plan.title" /></h1>
    <p v-if="run.outcome.status === 'void'" class="ended stop" role="status">
      This try is void: {{ run.outcome.reason }}. It stays on record. Begin again from your tasks.
    </p>
    <p v-if="says" class="problem" role="alert">{{ says }}</p>
    <ul v-if="refused.length" class="problem" role="alert">
      <li v-for="line in refused" :key="line">{{ line }}</li>
    </ul>
    <p v-if="carried" class="small" role="status">
      The sheet goes on by the same rules, worked out on this device, with what is kept here.
    </p>
    <p v-else-if="kept.length" class="small" role="status">
      The sheet goes on when what is kept here is on record. Until then notes can be added.
    </p>
    <RunSheet :run="run" :busy="busy" :problems="problems" :about="about" @state="state" />
    <section v-if="task && run.outcome.status === 'finished'" aria-label="Your result">
      <h2>Your result</h2>
      <HandIn :task="task" />
    </section>
    <section v-if="figures.length" aria-label="What your figures give">
      <h2>What your figures give</h2>
      <ul class="given">
        <li v-for="f in figures" :key="f.id">
          <span>{{ f.label }}</span>
          <button type="button" class="figure" @click="explain(f.id)">{{ f.text }} ± {{ f.uText }} {{ f.unit }}</button>
        </li>
      </ul>
      <WorkingPanel v-if="working" :lines="working.lines" :title="working.title" @close="close" />
    </section>
    <RunFoot :key="run.summary.id" :run="run" :busy="busy" :add="addNote" bare @state="state" />
  </template>
</template>

<style scoped>
.ended {
  border-left: 5px solid var(--red);
  background: var(--red-tint);
  padding: 0.8rem 1.1rem;
}
.given {
  list-style: none;
  padding: 0;
}
.given li {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1rem;
  justify-content: space-between;
  max-width: 34rem;
}
.given button {
  border: 0;
  border-bottom: 1px dotted var(--ink);
  background: none;
  font: inherit;
  cursor: pointer;
}
</style>
