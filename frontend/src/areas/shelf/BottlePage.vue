<script setup lang="ts">
import { ref, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type Bottle } from '@/api/client'
import BudgetBars from '@/bench/BudgetBars.vue'
import { labelsOf, notePrinted, type Paper } from '@/bench/labels'
import { useWorking } from '@/bench/useWorking'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import { useLook } from '@/bench/useLook'
import FigureText from '@/design/FigureText.vue'
import FormulaText from '@/design/FormulaText.vue'
import { when } from '@/design/time'
import BottleTakings from './BottleTakings.vue'
import FamilyTree from './FamilyTree.vue'
import StandardisedChart from './StandardisedChart.vue'

const props = defineProps<{ id: string }>()
const bottle = shallowRef<Bottle>()
const discarding = ref(false)
const reason = ref('')

const { trouble, look } = useLook(async () => {
  bottle.value = await ask(api.GET('/bottles/{id}', { params: { path: { id: props.id } } }))
}, ['shelf', `bottle ${props.id}`])
watch(() => props.id, look)

const { working, explain, close } = useWorking(
  () => bottle.value?.concentration.id ?? '',
  async (figure) => {
    if (!bottle.value?.runId) return undefined // bottles poured together have a working each
    const params = { path: { id: bottle.value.id }, query: { figure } }
    return {
      title: bottle.value.figures.find((f) => f.id === figure)?.label ?? figure,
      lines: await ask(api.GET('/bottles/{id}/working', { params })),
    }
  },
  trouble,
)

async function discard() {
  try {
    bottle.value = await ask(
      api.POST('/bottles/{id}/discard', { params: { path: { id: props.id } }, body: { reason: reason.value } }),
    )
    discarding.value = false
  } catch (error) {
    trouble.value = sentence(error)
  }
}
const label = (paper: Paper) => labelsOf([props.id], paper)
const printed = () => notePrinted([props.id])

const states = { shelf: '', discarded: 'discarded', void: 'void', poured: 'poured together with others' }
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <p v-if="!bottle && !trouble" class="soft">Looking…</p>
  <div v-if="bottle" class="sheet-and-side" :class="{ 'wide-side': working }">
    <section>
      <p class="soft">Bottle {{ bottle.number }}</p>
      <h1>{{ bottle.name }}</h1>
      <p><FormulaText :pieces="bottle.formula" /></p>
      <p v-if="bottle.state !== 'shelf'" class="gone">
        No longer on the shelf: {{ states[bottle.state] }}, {{ bottle.reason }}
      </p>
      <p v-if="bottle.doubt" class="gone" role="status">{{ bottle.doubt }}</p>
      <FigureText :figure="bottle.concentration" large @explain="explain" />
      <p class="small soft">
        k = 2, at 20 °C
        <template v-if="bottle.runId"> · <kbd>=</kbd> shows the working</template>
      </p>
      <p v-if="!bottle.exact" class="approx">
        Approximate until standardised: made from
        {{
          { concentrate: 'a concentrate', solid: 'a solid that is not a primary standard' }[bottle.origin] ??
          'a stock that is approximate itself'
        }}.
      </p>
      <BudgetBars :figure="bottle.concentration" class="bars" />
      <p v-for="f in bottle.figures.slice(1)" :key="f.id" class="also">
        <FigureText :figure="f" @explain="explain" /> <span class="small soft">{{ f.label }}</span>
      </p>

      <section v-if="bottle.standardisations?.length" aria-label="Standardised">
        <p v-if="bottle.madeAs">
          Standardised, run
          <RouterLink :to="`/runs/${bottle.standardisations[0]!.run}`">{{
            bottle.standardisations[0]!.number
          }}</RouterLink>, {{ when(bottle.standardisations[0]!.at) }}. Made as
          <span class="figure">{{ bottle.madeAs }}</span>.
        </p>
        <StandardisedChart v-if="bottle.standardisations.length > 1" :list="bottle.standardisations" />
      </section>
      <div v-if="bottle.changes?.length" class="changes" role="status">
        <h2>Its figure moved</h2>
        <ul>
          <li v-for="c in bottle.changes" :key="c.at">
            <span class="figure">{{ c.moved }}</span> <span class="small soft">{{ when(c.at) }}, {{ c.cause }}</span>
          </li>
        </ul>
        <p class="small">A label printed before shows the old one.</p>
      </div>

      <div v-if="bottle.state === 'shelf'" class="print no-print">
        <a class="go" :href="label('label')" target="_blank" @click="printed">Print the label</a>
        <a :href="label('a4')" target="_blank" @click="printed">on an A4 sheet</a>
        <a :href="label('letter')" target="_blank" @click="printed">on a Letter sheet</a>
        <RouterLink to="/shelf">several, or for vials</RouterLink>
      </div>

      <dl>
        <dt>Volume</dt>
        <dd>{{ bottle.left.toFixed(0) }} mL left of {{ bottle.volume.toFixed(0) }} mL</dd>
        <dt>Made</dt>
        <dd>
          {{ when(bottle.made) }} by {{ bottle.by
          }}<template v-if="bottle.runId"
            >, <RouterLink :to="`/runs/${bottle.runId}`">run {{ bottle.runNumber }}</RouterLink></template
          >
        </dd>
        <template v-if="bottle.expires">
          <dt>Use by</dt>
          <dd :class="{ late: bottle.expired }">{{ bottle.expires }}{{ bottle.expired ? ', expired' : '' }}</dd>
        </template>
        <template v-if="bottle.standardiseBy">
          <dt>Standardise again by</dt>
          <dd :class="{ late: bottle.standardiseNow }">
            {{ bottle.standardiseBy }}{{ bottle.standardiseNow ? ', overdue' : '' }}
          </dd>
        </template>
        <template v-if="bottle.store">
          <dt>Keep it</dt>
          <dd>{{ bottle.store }}</dd>
        </template>
        <template v-if="bottle.note">
          <dt>Remark</dt>
          <dd>{{ bottle.note }}</dd>
        </template>
        <dt>Comes from</dt>
        <dd>
          <ul class="parents">
            <li v-for="from in bottle.from ?? []" :key="from.id">
              <RouterLink :to="`/shelf/${from.id}`">bottle {{ from.number }}, {{ from.title }}</RouterLink>
              <span class="small soft figure from">{{ from.text }}</span>
            </li>
            <li v-for="parent in bottle.parents" :key="parent">{{ parent }}</li>
          </ul>
        </dd>
      </dl>

      <FamilyTree :id="id" />
      <BottleTakings :bottle="bottle" @taken="(now) => (bottle = now)" />
    </section>
    <aside>
      <WorkingPanel v-if="working" :lines="working.lines" :title="working.title" @close="close" />
      <template v-else>
        <h2>Hazards of the solution</h2>
        <div v-if="bottle.pictograms.length" class="pictograms">
          <img
            v-for="p in bottle.pictograms"
            :key="p"
            :src="`/pictograms/${p}.svg`"
            :alt="`hazard pictogram ${p}`"
            width="64"
            height="64"
          />
        </div>
        <p v-if="bottle.signal" class="signal">{{ bottle.signal }}</p>
        <ul v-if="bottle.hazards.length" class="hazards">
          <li v-for="h in bottle.hazards" :key="h.code">
            <span class="figure">{{ h.code }}</span> {{ h.text }}
          </li>
        </ul>
        <p v-else-if="bottle.classified">Not classified as hazardous at this strength.</p>
        <p v-else>Not known: look at the data sheet of what it was made from.</p>
        <p class="small soft">
          Worked out from the concentration limits of GHS and CLP, as a guide. Your local rules, the safety data sheet
          and licensed waste handling come first.
        </p>
        <template v-if="bottle.state === 'shelf'">
          <el-button v-if="!discarding" type="danger" plain @click="discarding = true">Discard this bottle</el-button>
          <form v-else @submit.prevent="discard">
            <p>
              Small amounts of dilute acid, base and salt are often rinsed away with much water; heavy metals, silver,
              chromium and organics never. Ask what your local rules allow.
            </p>
            <label>Why<el-input v-model="reason" maxlength="300" required placeholder="used up" /></label>
            <el-button type="danger" native-type="submit">It is discarded</el-button>
            <el-button link @click="discarding = false">Keep it</el-button>
          </form>
        </template>
      </template>
    </aside>
  </div>
</template>

<style scoped>
.from {
  display: block;
}
.bars {
  max-width: 30rem;
}
.also {
  margin: 0.2rem 0;
}
.approx {
  color: var(--amber);
  font-weight: 600;
}
.gone {
  background: var(--red-tint);
  border-left: 5px solid var(--red);
  padding: 0.6rem 1rem;
}
.changes {
  border-left: 5px solid var(--amber);
  background: var(--amber-tint);
  padding: 0.6rem 1rem;
  margin: 0.8rem 0;
}
.print {
  display: flex;
  gap: 1.2rem;
  align-items: center;
  margin: 1.2rem 0;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 0.4rem 1.5rem;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.late {
  color: var(--red);
  font-weight: 700;
}
.parents,
.hazards {
  margin: 0;
  padding-left: 1.1rem;
}
.pictograms {
  display: flex;
  gap: 0.4rem;
}
.signal {
  font-weight: 700;
  font-size: 1.2rem;
  margin: 0.4rem 0;
}
.hazards {
  margin-bottom: 0.8rem;
}
</style>
