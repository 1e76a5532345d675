<script setup lang="ts">
import { useTemplateRef } from 'vue'
import type { StandardAnswer } from '@/api/client'
import BudgetBars from '@/bench/BudgetBars.vue'
import VerdictLine from '@/bench/VerdictLine.vue'
import WorkingPanel from '@/bench/WorkingPanel.vue'
import FigureText from '@/design/FigureText.vue'
import FormulaText from '@/design/FormulaText.vue'

/** The recipe: what to weigh, how to make it up, what that gives, and what to mind. */
defineProps<{ answer: StandardAnswer; makeUp: string; inBatches: boolean; busy: boolean }>()
const emit = defineEmits<{ choose: [id: string]; take: [] }>()
const working = defineModel<boolean>('working', { required: true })
const takeButton = useTemplateRef<{ ref: HTMLElement }>('takeButton')
defineExpose({ focus: () => takeButton.value?.ref.focus() })
</script>

<template>
  <WorkingPanel v-if="working" :lines="answer.working" title="mass to weigh" @close="working = false" />
  <template v-else>
    <p class="small soft">{{ answer.recipe.unit === 'g' ? 'Weigh' : `Measure with a ${answer.recipe.with}` }}</p>
    <button type="button" class="mass" title="How the mass to weigh came about" @click="working = true">
      <span class="figure value">{{ answer.recipe.takeText }}</span>&#8239;<span class="figure unit">{{
        answer.recipe.unit
      }}</span>
    </button>
    <p class="small soft">
      <template v-if="answer.recipe.also">of <FormulaText :pieces="answer.recipe.solid" />, </template>
      {{ answer.recipe.low.toFixed(answer.recipe.decimals) }} to
      {{ answer.recipe.high.toFixed(answer.recipe.decimals) }}
      {{ answer.recipe.unit }} is close enough · <kbd>=</kbd> shows the working
    </p>
    <p v-for="(portion, i) in answer.recipe.also ?? []" :key="i" class="portion">
      and <strong class="figure">{{ portion.takeText }}&#8239;g</strong> of <FormulaText :pieces="portion.solid" />
    </p>
    <p v-if="makeUp === 'mass'">
      Make it up on the balance, about {{ answer.recipe.flask.volume }} mL: what the solution weighs is what counts.
    </p>
    <p v-else-if="makeUp === 'adding'">
      Add <strong>{{ answer.recipe.water }}</strong> of water: with what is dissolved, that makes about
      {{ answer.recipe.flask.volume }} mL.
    </p>
    <template v-else-if="answer.recipe.batches">
      <ol class="batches" aria-label="Batches">
        <li v-for="(b, i) in answer.recipe.batches" :key="i">
          <span class="figure">{{ b.take }}</span> to the mark of a <strong>{{ b.flask.volume }} mL</strong> flask
        </li>
      </ol>
      <el-button v-if="inBatches" link type="primary" @click="emit('choose', 'one flask')"
        >In one flask instead</el-button
      >
    </template>
    <p v-else>
      Make up to the mark of a <strong>{{ answer.recipe.flask.volume }} mL</strong> flask, class
      {{ answer.recipe.flask.class
      }}{{
        answer.recipe.flask.certified
          ? `, the one marked ${answer.recipe.flask.mark}: ${answer.recipe.flask.certified} mL by its certificate`
          : ''
      }}.
    </p>
    <div class="gives">
      <p class="small soft">Exactly that would give, k = 2</p>
      <p
        v-for="f in answer.recipe.figures.filter((f) => f.role?.endsWith('concentration')).slice(0, 7)"
        :key="f.id"
        class="line"
      >
        <FigureText :figure="f" @explain="working = true" />
        <span v-if="f.label !== 'concentration'" class="small soft">{{ f.label }}</span>
      </p>
      <BudgetBars v-if="answer.recipe.figures[0]" :figure="answer.recipe.figures[0]" />
    </div>
    <VerdictLine
      v-for="v in answer.recipe.verdicts"
      :key="v.sentence"
      :verdict="v"
      @choose="(id) => emit('choose', id)"
    />
    <el-button ref="takeButton" type="primary" :disabled="busy" @click="emit('take')">Take it to the bench</el-button>
    <details class="cautions small" open>
      <summary>Cautions</summary>
      <ul>
        <li v-for="c in answer.recipe.cautions" :key="c">{{ c }}</li>
      </ul>
    </details>
  </template>
</template>

<style scoped>
.portion,
.batches {
  margin: 0.3rem 0;
}
.batches {
  padding-left: 1.4rem;
}
.mass {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 2px dotted var(--line-strong);
  padding: 0;
  cursor: pointer;
}
.mass .value {
  font-size: 2.6rem;
  font-weight: 700;
  line-height: 1.1;
}
.mass .unit {
  font-size: 1.5rem;
  color: var(--ink-soft);
}
.gives {
  border-top: 1px solid var(--line);
  padding-top: 0.7rem;
  margin: 0.8rem 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 0.5rem;
  margin: 0.2rem 0;
}
.cautions {
  margin-top: 1.2rem;
}
.cautions ul {
  padding-left: 1.1rem;
}
</style>
