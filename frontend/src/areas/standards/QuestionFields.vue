<script setup lang="ts">
import { computed, ref, useTemplateRef, watchEffect } from 'vue'
import type { LabSubstance, QuantityQuestion, Settings } from '@/api/client'
import QuantityField from '@/bench/QuantityField.vue'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import FormulaText from '@/design/FormulaText.vue'
import OfField from './OfField.vue'
import { needsDensity, needsReaction, usualAssay, type Typed } from './question'
import SubstancePick from './SubstancePick.vue'

/** What is asked of a standard solution. The three questions that matter stand open; the
 * rest is folded under lines that say what it is set to. */
const props = defineProps<{
  substances: LabSubstance[]
  settings?: Settings
  problems: Map<string, string>
}>()
const question = defineModel<Typed>({ required: true })
const emit = defineEmits<{ done: [] }>()

const whatField = useTemplateRef<{ focus: () => void }>('whatField')
const volumeField = useTemplateRef('volumeField')
const says = ref('')
defineExpose({ focus: () => whatField.value?.focus() })

const bases: QuantityQuestion['dimensions'] = [
  'amount concentration',
  'mass concentration',
  'mass fraction',
  'molality',
  'equivalents',
  'volume fraction',
]
const chosen = computed(() => props.substances.find((s) => s.substance.key === question.value.key))
const problem = (...fields: string[]) => fields.map((f) => props.problems.get(f)).find(Boolean) ?? ''

/** The usual bands, and the lab's own where it has set another (rule W-3). */
const bands = computed(() => {
  const list: [string, string][] = [
    ['0.1', 'within ±0.1 %: a fixed concentration, as a standard'],
    ['1', 'within ±1 %: a fixed concentration, for class work'],
    ['5', 'within ±5 %: named by its actual concentration'],
  ]
  const own = String(props.settings?.thresholds['W-3'] ?? 1)
  return list.some(([value]) => value === own)
    ? list
    : [[own, `within ±${own} %: the rule of this lab`] as const, ...list]
})
const waterChoices: [string, string][] = [
  ['', 'as named'],
  ['0', 'anhydrous'],
  ...[1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12].map((n): [string, string] => [String(n), `with ${n} H2O`]),
]
const makeUps: [string, string][] = [
  ['', 'to the mark of a flask'],
  ['mass', 'by weighing the solution'],
  ['adding', 'by adding water, nominal'],
]
const some = (pattern: RegExp) => [...props.problems.keys()].some((field) => pattern.test(field))
const madeFields = /^\/(makeUp|flaskClass|wanted|solutionDensity|band)/
const bottleFields = /^\/(assay|liquidDensity|dispense|statedMolarity|waters|dryingLoss)/
/** What has to be seen is unfolded, and stays so. */
const openMade = ref(false)
const openBottle = ref(false)
watchEffect(() => {
  if (needsDensity(question.value) || some(madeFields)) openMade.value = true
  if (some(bottleFields)) openBottle.value = true
})
const madeSummary = computed(() => {
  const q = question.value
  const how = makeUps.find(([value]) => value === q.makeUp)?.[1] ?? ''
  const wanted = q.wanted ? `, good to ±${q.wanted} %` : ''
  return `${how}${q.makeUp === '' ? `, class ${q.flaskClass || 'A'}` : ''}, mass within ±${q.band || '1'} %${wanted}`
})
const bottleSummary = computed(() => {
  const q = question.value
  const parts = [`assay ${q.assay} ± ${q.limits || '0'} %`]
  if (q.waters !== '') parts.push(q.waters === '0' ? 'anhydrous' : `with ${q.waters} H2O`)
  if (q.dryingLoss) parts.push(`loss on drying ${q.dryingLoss} %`)
  if (chosen.value?.substance.liquid) parts.push(`${q.liquidDensity} g/mL, by ${q.dispense || 'weighing'}`)
  return parts.join(', ')
})

function addAnother() {
  const other = props.substances.find((s) => s.substance.key === 'sodium-chloride') ?? props.substances[0]
  if (other)
    question.value.also.push({
      key: other.substance.key,
      concentration: question.value.concentration,
      of: '',
      assay: usualAssay(other.substance).assay,
    })
}
</script>

<template>
  <div class="fields">
    <div class="wide">
      <label id="what">What</label>
      <SubstancePick
        ref="whatField"
        v-model="question.key"
        :substances="substances"
        label="What"
        @says="(text) => (says = text)"
      />
      <p class="small soft about">
        <template v-if="chosen">
          <FormulaText :pieces="chosen.pieces" /> · {{ chosen.molarMass.toFixed(2) }} g/mol ·
          {{ chosen.substance.class === 'primary' ? 'primary standard' : 'secondary, to be standardised' }}
          <template v-if="chosen.substance.drying"> · drying: {{ chosen.substance.drying }}</template>
        </template>
        <span v-if="says" class="look">{{ says }}</span>
        <span v-if="problem('/substance/formula', '/substance/key')" class="problem">{{
          problem('/substance/formula', '/substance/key')
        }}</span>
      </p>
    </div>
    <QuantityField
      v-model="question.concentration"
      label="How strong"
      unit="mol/L"
      :dimensions="bases"
      initial="0.1000 mol/L"
      :problem="problem('/concentration')"
      @record="volumeField?.focus()"
    />
    <OfField v-model="question.of" :elements="chosen?.elements ?? []" label="Of" :problem="problem('/of')" />
    <QuantityField
      ref="volumeField"
      v-model="question.volume"
      label="How much"
      unit="mL"
      :dimensions="['volume']"
      initial="250 mL"
      :problem="problem('/volume')"
      @record="emit('done')"
    />
    <template v-if="needsReaction(question)">
      <TextField
        v-model="question.equivalents"
        label="Equivalents in one formula unit"
        :problem="problem('/equivalentCount')"
      />
      <TextField
        v-model="question.reaction"
        class="two"
        words
        label="in the reaction"
        placeholder="acid–base"
        :problem="problem('/reaction')"
      />
    </template>
    <template v-for="(other, i) in chosen?.substance.liquid ? [] : question.also" :key="i">
      <div class="two">
        <label>and also</label>
        <SubstancePick v-model="other.key" :substances="substances" :label="`Substance ${i + 2}`" />
        <p class="problem small">{{ problem(`/also/${i}/substance/key`, `/also/${i}/substance/formula`) }}</p>
      </div>
      <el-button
        link
        type="primary"
        class="leave"
        :aria-label="`Leave substance ${i + 2} out`"
        @click="question.also.splice(i, 1)"
        >Leave it out</el-button
      >
      <QuantityField
        v-model="other.concentration"
        label="how strong"
        unit="mol/L"
        :dimensions="bases"
        :problem="problem(`/also/${i}/concentration`)"
        @record="emit('done')"
      />
      <OfField
        v-model="other.of"
        :elements="substances.find((s) => s.substance.key === other.key)?.elements ?? []"
        :label="`of, in substance ${i + 2}`"
        short="of"
        :problem="problem(`/also/${i}/of`)"
      />
      <TextField v-model="other.assay" label="assay, % w/w" :problem="problem(`/also/${i}/assay`)" />
    </template>
    <p v-if="!chosen?.substance.liquid && question.also.length < 5" class="wide">
      <el-button link type="primary" @click="addAnother">Another substance in the same flask</el-button>
      <span class="problem small">{{ problem('/also') }}</span>
    </p>
    <details class="wide fold" :open="openMade" @toggle="(e) => (openMade = (e.target as HTMLDetailsElement).open)">
      <summary>
        Made up <span class="soft">{{ madeSummary }}</span>
      </summary>
      <div class="fields">
        <SelectField
          v-model="question.makeUp"
          label="How"
          spoken="How it is made up"
          :options="makeUps"
          :problem="problem('/makeUp')"
        />
        <SelectField
          v-if="question.makeUp === ''"
          v-model="question.flaskClass"
          label="Flask"
          :options="[
            ['A', 'class A'],
            ['B', 'class B, for teaching'],
          ]"
          :problem="problem('/flaskClass')"
        />
        <TextField
          v-model="question.wanted"
          label="Good to within ±, %, if it matters"
          :problem="problem('/wanted', '/wantedPercent')"
        />
        <template v-if="needsDensity(question)">
          <TextField
            v-model="question.density"
            label="Density of the solution, g/mL"
            :problem="problem('/solutionDensity')"
          />
          <TextField
            v-model="question.densityLimits"
            label="known within ±, g/mL"
            :problem="problem('/solutionDensityLimits')"
          />
        </template>
        <SelectField
          v-model="question.band"
          label="Close enough when the mass is"
          :class="{ two: question.makeUp === '' || needsDensity(question) }"
          :options="bands"
          :problem="problem('/band', '/bandPercent')"
        />
      </div>
    </details>
    <details class="wide fold" :open="openBottle" @toggle="(e) => (openBottle = (e.target as HTMLDetailsElement).open)">
      <summary>
        The bottle at hand <span class="soft">{{ bottleSummary }}</span>
      </summary>
      <div class="fields">
        <TextField
          v-model="question.assay"
          label="Assay on the bottle, % w/w"
          :problem="problem('/assay', '/assayPercent')"
        />
        <TextField
          v-model="question.limits"
          label="known within ±, %"
          :problem="problem('/assayLimits', '/assayLimitsPercent')"
        />
        <template v-if="chosen?.substance.liquid">
          <TextField
            v-model="question.liquidDensity"
            label="Density on the bottle, g/mL"
            :problem="problem('/liquidDensity')"
          />
          <SelectField
            v-model="question.dispense"
            label="Taken by"
            :options="[
              ['', 'weighing'],
              ['graduated pipette', 'graduated pipette'],
              ['cylinder', 'cylinder'],
            ]"
            :problem="problem('/dispense')"
          />
          <template v-if="question.dispense">
            <TextField
              v-model="question.molarity"
              label="or mol/L, if the bottle says so"
              :problem="problem('/statedMolarity')"
            />
            <TextField
              v-if="question.molarity"
              v-model="question.molarityLimits"
              label="known within ±, mol/L"
              :problem="problem('/statedMolarityLimits')"
            />
          </template>
        </template>
        <template v-else>
          <SelectField
            v-model="question.waters"
            label="Water in the solid at hand"
            :options="waterChoices"
            :problem="problem('/waters')"
          />
          <TextField
            v-model="question.dryingLoss"
            label="Not dried: loss on drying, %"
            :problem="problem('/dryingLoss', '/dryingLossPercent')"
          />
        </template>
      </div>
    </details>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.2rem 1.2rem;
  max-width: 52rem;
  margin-top: 0.6rem;
}
.wide {
  grid-column: 1 / -1;
}
.two {
  grid-column: span 2;
}
.fold {
  border-top: 1px solid var(--line);
  padding-top: 0.5rem;
  margin-top: 0.2rem;
}
.fold summary {
  cursor: pointer;
  font-weight: 700;
}
.fold summary .soft {
  font-weight: 400;
  margin-left: 0.6rem;
}
.leave {
  justify-self: start;
}
.look {
  color: var(--amber);
  margin-left: 0.4rem;
}
.fields p {
  min-height: 1.4em;
  margin: 0.15rem 0 0;
}
</style>
