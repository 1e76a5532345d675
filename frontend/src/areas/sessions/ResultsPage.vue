<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type ClassResult, type ClassResults, type SlipCause } from '@/api/client'
import { signed } from '@/api/figures'
import { newId } from '@/api/id'
import { useSession } from '@/api/session'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import VerdictLine from '@/bench/VerdictLine.vue'
import ClassMarks from './ClassMarks.vue'
import EarlierTerms from './EarlierTerms.vue'
import PasteResults from './PasteResults.vue'
import ResultsPlot from './ResultsPlot.vue'

/** The results of a task: each beside what its bottle held and beside the class, and what would explain one that is off. */
const props = defineProps<{ id: string; task: string }>()
const of = ref<ClassResults>()
const params = computed(() => ({ path: { id: props.task } }))
const { trouble, look } = useLook(async () => {
  of.value = await ask(api.GET('/class-tasks/{id}/results', { params: params.value }))
}, [`class ${props.id}`, 'planned'])
const { busy, says, send } = useForm()
const session = useSession()
/** The group whose marks are told in full; 0 of none. */
const opened = ref(0)
const marks = computed(() => of.value?.results.find((r) => r.group === opened.value && r.marked))

/** What is named of a result: of the working before the hands. */
const causes = (r: ClassResult): SlipCause[] => {
  const t = r.traced
  if (!t) return []
  if (t.workingNamed) return [t.working[0]!]
  return t.handsNamed ? [t.hands[0]!] : []
}
/** Others that may be, where none is likely enough to be named. */
const perhaps = (r: ClassResult): SlipCause[] => {
  const t = r.traced
  if (!t || causes(r).length) return []
  if (t.follows === false) return t.working.slice(0, 3)
  return t.agrees === false ? t.hands.slice(0, 3) : []
}
const odd = computed(
  () =>
    of.value?.results.filter(
      (r) => causes(r).length || perhaps(r).length || r.traced?.impossible.length || r.traced?.follows === false,
    ) ?? [],
)
const judge = (r: ClassResult, slip: string, confirmed: boolean) =>
  send(async () => {
    const at = { path: { id: r.handIn! } }
    await ask(api.POST('/hand-ins/{id}/judgements', { params: at, body: { id: newId(), slip, confirmed } }))
    await look()
  })
const text = (x: number | undefined, digits = 3) =>
  x === undefined ? '' : Number(x.toPrecision(digits)).toString().replace('-', '−')
const percent = (share: number) => `${Math.min(99, Math.round(100 * share))} %`
</script>

<template>
  <p v-if="trouble || says" class="problem" role="alert">{{ trouble || says }}</p>
  <p v-if="!of && !trouble" class="soft">Looking up the results…</p>
  <template v-if="of">
    <h1>{{ of.task.title }}</h1>
    <p>
      <RouterLink :to="`/sessions/${id}/class`">The class</RouterLink>. The bottles held: {{ of.task.knows }}.
      <template v-if="of.task.locked">
        What they held is locked: <RouterLink :to="`/sessions/${id}`">open the key of the unknowns</RouterLink>, on
        record.</template
      >
    </p>
    <p v-if="of.results.length === 0" class="soft">
      Results appear here as the groups hand them in. Results on paper can be pasted below.
    </p>
    <template v-else>
      <ResultsPlot v-if="of.compared" :of="of" />
      <VerdictLine v-for="v in of.compared?.verdicts" :key="v.sentence" :verdict="v" />
      <p v-if="of.compared && of.results.length > 2">
        Of {{ of.results.length }} {{ of.compared.of }}: median
        <span class="figure">{{ text(of.compared.median, 4) }} {{ of.compared.unit }}</span
        >, robust mean <span class="figure">{{ text(of.compared.algorithmA.mean, 4) }} {{ of.compared.unit }}</span
        >, robust standard deviation
        <span class="figure">{{ text(of.compared.algorithmA.sd, 2) }} {{ of.compared.unit }}</span
        >.
      </p>
      <section v-if="odd.length" aria-label="What would explain them">
        <h2>Look again with</h2>
        <article v-for="r in odd" :key="r.group" class="odd" :aria-label="r.name">
          <h3>
            {{ r.name }}: <span class="figure">{{ r.stated }}</span>{{ ' ' }}
            <RouterLink v-if="r.run" class="small" :to="`/runs/${r.run}`">its sheet</RouterLink>
          </h3>
          <p v-for="line in r.traced!.impossible" :key="line">This cannot be: {{ line }}.</p>
          <template v-for="c in causes(r)" :key="c.title">
            <p>{{ c.sentence }}</p>
            <p class="soft small">To ask them: “{{ c.hint }}”</p>
            <p class="no-print">
              <template v-for="slip in c.slips" :key="slip">
                <span v-if="r.judged?.[slip] !== undefined" class="small"
                  >{{ slip }}: {{ r.judged[slip] ? 'confirmed' : 'it was not that' }}.
                </span>
                <template v-else>
                  <el-button size="small" :disabled="busy" @click="judge(r, slip, true)"
                    >Confirm{{ c.slips.length > 1 ? ` “${slip}”` : '' }}</el-button
                  >
                  <el-button size="small" :disabled="busy" @click="judge(r, slip, false)">Not it</el-button>
                </template>
              </template>
            </p>
          </template>
          <template v-if="perhaps(r).length">
            <p>No slip is likely enough to be named. It may be:</p>
            <ul>
              <li v-for="c in perhaps(r)" :key="c.title">{{ c.title }} ({{ percent(c.share) }})</li>
            </ul>
          </template>
          <p v-else-if="causes(r).length === 0 && r.traced?.follows === false">
            It does not follow from their figures, which give
            <span class="figure">{{ text(r.traced.calculated, 4) }} {{ of.task.unit }}</span
            >; no slip that is known explains it.
          </p>
        </article>
      </section>
      <div class="scrolled">
        <table class="plain" aria-label="Results">
          <thead>
            <tr>
              <th>Group</th>
              <th>Handed in</th>
              <th>U (k = 2), {{ of.task.unit }}</th>
              <th>Bottle held, {{ of.task.unit }}</th>
              <th>Error, %</th>
              <th>E<sub>n</sub></th>
              <th>z</th>
              <th>Figures give, {{ of.task.unit }}</th>
              <th>SD of runs, {{ of.task.unit }}</th>
              <th v-if="of.scheme">Marks</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in of.results" :key="r.group" :class="{ off: r.row?.off }">
              <td>{{ r.name }}</td>
              <td class="figure">{{ r.stated }}</td>
              <td class="figure">{{ text(r.U, 2) }}</td>
              <td class="figure">{{ text(r.held, 4) }}</td>
              <td class="figure">{{ signed(r.row?.error) }}</td>
              <td class="figure">{{ signed(r.row?.En, '') }}</td>
              <td class="figure">{{ signed(r.row?.z, '') }}</td>
              <td class="figure">
                <RouterLink v-if="r.run" :to="`/runs/${r.run}`" title="The sheet, and the working of it">{{
                  text(r.traced?.calculated, 4)
                }}</RouterLink>
              </td>
              <td class="figure">{{ text(r.row?.runSD, 2) }}</td>
              <td v-if="of.scheme" class="figure">
                <el-button
                  v-if="r.marked"
                  link
                  type="primary"
                  :aria-label="`Marks of ${r.name}`"
                  :aria-expanded="opened === r.group"
                  @click="opened = opened === r.group ? 0 : r.group"
                  >{{ text(r.marked.points) }} of {{ text(r.marked.of) }}</el-button
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <section v-if="marks" :aria-label="`Marks of ${marks.name}`">
        <h2>Marks of {{ marks.name }}</h2>
        <ul>
          <li v-for="l in marks.marked!.lines" :key="l.of">
            {{ l.of }}: <b v-if="l.most" class="figure">{{ text(l.points) }} of {{ text(l.most) }}</b
            >{{ l.most ? ', ' : '' }}{{ l.why }}
          </li>
        </ul>
      </section>
      <p class="no-print">
        <a :href="`/api/v1/class-tasks/${task}/feedback.pdf`" target="_blank" rel="noopener"
          >A sheet back to each group</a
        >
        ·
        <a :href="`/api/v1/class-tasks/${task}/results.xlsx`" download>The class as a workbook</a>
      </p>
    </template>
    <div class="more">
      <EarlierTerms :key="task" :task="task" />
      <ClassMarks
        v-if="of.results.length && session.account?.role === 'instructor'"
        :task="task"
        :scheme="of.scheme"
        @marked="(r) => (of = r)"
      />
      <PasteResults :task="task" :unit="of.task.unit" @entered="(r) => (of = r)" />
    </div>
  </template>
</template>

<style scoped>
.more :deep(summary) {
  padding: 0.35rem 0;
}
.odd {
  border-left: 5px solid var(--amber);
  padding: 0.1rem 1rem;
  margin-bottom: 0.8rem;
}
.odd h3 {
  margin: 0.3rem 0;
}
.odd p {
  margin: 0.25rem 0;
  max-width: 60rem;
}
.scrolled {
  overflow-x: auto;
}
tr.off td:first-child {
  border-left: 5px solid var(--amber);
  padding-left: 0.6rem;
}
</style>
