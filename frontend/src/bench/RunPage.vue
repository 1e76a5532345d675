<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, sentence } from '@/api/client'
import { newId } from '@/api/id'
import { useOutbox } from '@/api/outbox'
import { useBench } from '@/bench/bench'
import { provideCorrecting } from '@/bench/correcting'
import { kindOf } from '@/bench/kinds'
import { useParts } from '@/bench/useParts'
import { useRun } from '@/bench/useRun'
import { useConnected } from '@/bench/useConnected'
import { useWorking } from '@/bench/useWorking'
import { useLive } from '@/bench/live'
import RunFoot from '@/bench/RunFoot.vue'
import RunSheet from '@/bench/RunSheet.vue'
import StandinMeter from '@/bench/StandinMeter.vue'
import StandinPanel from '@/bench/StandinPanel.vue'
import StandinPhotometer from '@/bench/StandinPhotometer.vue'
import SpeciesText from '@/design/SpeciesText.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import WhenText from '@/design/WhenText.vue'

const props = defineProps<{ id: string }>()
const outbox = useOutbox()
const bench = useBench()
const router = useRouter()

const { run, carried, carries, kept, trouble, says, problems, about, busy, refused, look, state } = useRun(
  () => props.id,
  () => void refresh(),
)
provideCorrecting({ run, busy, problems, about, state: (fact) => void state(fact) })

const outcome = computed(() => run.value?.outcome)
const figures = computed(() => outcome.value?.figures ?? [])
const kind = computed(() => run.value && kindOf(run.value.plan.kind))
const parts = useParts(() => run.value?.plan.kind)
watch(kind, (is) => is && (bench.runArea = is.path))
const live = useLive()
const atHand = computed(() => outcome.value?.steps.find((s) => s.state === 'now'))
live.follow(useConnected(atHand))

/** Once seen to be a stand-in, its panel stays when the cable is pulled. */
const standin = ref(false)
watch(
  () => live.reading?.standin,
  (is) => {
    if (is) standin.value = true
  },
)

const batches = computed(() => run.value?.batches ?? [])
const nextBatch = computed(() => batches.value.findIndex((b) => !b.runId))
const poolable = computed(() => batches.value.length > 1 && batches.value.every((b) => b.bottleId))

async function pool() {
  try {
    const bottles = batches.value.map((b) => b.bottleId!)
    const bottle = await ask(api.POST('/bottles/pool', { body: { id: newId(), bottles } }))
    await router.push(`/shelf/${bottle.id}`)
  } catch (error) {
    says.value = sentence(error)
  }
}

const { working, explain, refresh, close } = useWorking(
  () => (run.value && kind.value?.mainFigure(run.value)) ?? '',
  async (figure) => ({
    title: figures.value.find((f) => f.id === figure)?.label ?? 'the plan',
    lines: await ask(api.GET('/runs/{id}/working', { params: { path: { id: props.id }, query: { figure } } })),
  }),
  says,
)

/** A note waits for nothing: while a reading is on its way it is kept behind it. */
async function addNote(text: string): Promise<boolean> {
  if (!busy.value) {
    await state({ kind: 'note', text })
    return !says.value
  }
  void outbox.send(props.id, { kind: 'note', text, id: newId() }).then(look, (error) => (says.value = sentence(error)))
  return true
}
/** What has ended offers what comes next, where the hands were: their field is gone with the step. */
const ended = useTemplateRef<HTMLElement>('ended')
watch(
  () => run.value?.summary.id + ' ' + outcome.value?.status,
  async (is, was) => {
    if (was?.split(' ')[0] !== is.split(' ')[0] || !was.endsWith(' open')) return
    await nextTick()
    if (document.activeElement === document.body) ended.value?.querySelector<HTMLElement>('a, button')?.focus()
  },
)

async function again(which = run.value?.summary.batch ?? 0) {
  if (!run.value) return
  try {
    const next = await ask(api.POST('/runs', { body: { id: newId(), planId: run.value.plan.id, batch: which } }))
    await router.push(`/runs/${next.summary.id}`)
  } catch (error) {
    says.value = sentence(error)
  }
}
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">
    {{ trouble }} <el-button link type="primary" @click="look">Look again</el-button>
  </p>
  <p v-if="!run && !trouble" class="soft">Opening the run…</p>
  <div
    v-if="run && outcome"
    :data-carries="carries || undefined"
    class="sheet-and-side"
    :class="{ 'wide-side': working, measured: kind?.measured }"
  >
    <section>
      <h1><SpeciesText :text="run.plan.title" /></h1>
      <p class="soft">
        <component :is="parts?.Head" :run="run" />
        run {{ run.summary.number }}, begun <WhenText :at="run.summary.begun" /> by {{ run.summary.by }}
      </p>

      <div v-if="outcome.status === 'void'" ref="ended" class="ended stop" role="status">
        <h2>This run is void: {{ outcome.reason }}</h2>
        <p>
          It stays on record.
          <template v-if="kind?.measured">Nothing counts that was read in it.</template>
          <template v-else>
            Discard what is in the flask: ask what your local rules allow; licensed waste handling comes first.
          </template>
        </p>
        <el-button type="primary" @click="again()">Begin again from the plan</el-button>
      </div>
      <div v-else-if="outcome.status === 'finished'" ref="ended" class="ended fine" role="status">
        <template v-if="carried">
          <h2>All is stated</h2>
          <p>What it gives stands beside this. It goes on record when the network is back; then it has its place.</p>
        </template>
        <component :is="parts?.Ended" v-else :run="run" />
        <template v-if="batches.length">
          <p v-if="nextBatch >= 0">
            <el-button type="primary" @click="again(nextBatch)">Begin batch {{ nextBatch + 1 }}</el-button>
          </p>
          <p v-else-if="poolable">
            All {{ batches.length }} batches are on the shelf.
            <el-button type="primary" @click="pool">Pour them together</el-button>
          </p>
        </template>
      </div>
      <p v-if="outcome.status !== 'finished' && run.bottles.length" class="ended stop" role="status">
        What this run made is void: a reading that it rests on was taken back or corrected. Do not use it, and cross out
        its label; what was made from it is in doubt.
        <RouterLink v-for="(made, i) in run.bottles" :key="made" :to="`/shelf/${made}`" class="label-link"
          >{{ run.bottles.length > 1 ? `Bottle ${i + 1} of ${run.bottles.length}` : 'The bottle' }}
        </RouterLink>
      </p>
      <p v-if="run.doubt" class="ended stop" role="status">{{ run.doubt }}</p>
      <div v-if="run.moved.length" class="ended look" role="status">
        <h2>This moved on the shelf</h2>
        <ul>
          <li v-for="m in run.moved" :key="m">{{ m }}</li>
        </ul>
        <p>Labels printed before show the old figure: print them again.</p>
      </div>
      <nav v-if="batches.length" class="batches" aria-label="Batches">
        <template v-for="(b, i) in batches" :key="i">
          <strong v-if="b.runId === run.summary.id">Batch {{ i + 1 }}</strong>
          <RouterLink v-else-if="b.runId" :to="`/runs/${b.runId}`">Batch {{ i + 1 }}</RouterLink>
          <span v-else class="soft">Batch {{ i + 1 }}, to come</span>
        </template>
      </nav>
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

      <RunFoot :key="run.summary.id" :run="run" :busy="busy" :add="addNote" @state="state" />
    </section>

    <aside aria-label="Vessel and result">
      <WorkingPanel v-if="working" :lines="working.lines" :title="working.title" @close="close" />
      <template v-else>
        <component
          :is="parts?.Side"
          :run="run"
          :busy="busy"
          @explain="explain"
          @decide="
            (choice: string, part: number, text?: string) =>
              state({ kind: 'decided', choice, part, ...(text ? { text } : {}) })
          "
        />
        <template v-if="live.reading?.standin || (live.instrument && standin)">
          <StandinMeter v-if="live.instrument?.of === 'meters'" :beaker="atHand?.stands" />
          <StandinPhotometer v-else-if="live.instrument?.of === 'photometers'" :molar="atHand?.molar" />
          <StandinPanel v-else />
        </template>
      </template>
    </aside>
  </div>
</template>

<style scoped>
.batches {
  display: flex;
  flex-wrap: wrap;
  gap: 1.4rem;
  margin: 0.8rem 0;
}
.ended {
  border-left: 5px solid var(--green);
  background: var(--green-tint);
  padding: 0.8rem 1.1rem;
  margin: 0.8rem 0;
}
.ended.stop {
  border-color: var(--red);
  background: var(--red-tint);
}
.ended.look {
  border-color: var(--amber);
  background: var(--amber-tint);
}
.ended h2 {
  margin: 0 0 0.3rem;
}
.label-link {
  font-weight: 700;
}
</style>
