<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/api/client'
import BudgetBars from '@/bench/BudgetBars.vue'
import { useLive } from '@/bench/live'
import FigureText from '@/design/FigureText.vue'
import FlaskDrawing from './FlaskDrawing.vue'
import PanScale from './PanScale.vue'

/** The pan and the flask of a standard solution, and what it gives. */
const props = defineProps<{ run: Run; busy?: boolean }>()
const emit = defineEmits<{ explain: [figure: string] }>()
const live = useLive()
const outcome = computed(() => props.run.outcome)
const vessel = computed(() => (outcome.value.view.kind === 'standard' ? outcome.value.view.vessel : undefined))
const main = computed(() => outcome.value.figures[0])
const weighing = computed(() => outcome.value.steps.some((s) => s.id.startsWith('weigh') && s.state !== 'done'))
</script>

<template>
  <template v-if="vessel">
    <PanScale v-if="weighing || outcome.status === 'void'" :vessel="vessel" :live="live.value" />
    <FlaskDrawing :vessel="vessel" />
  </template>
  <div class="gives">
    <p class="small soft">This gives</p>
    <template v-if="main">
      <FigureText :figure="main" large @explain="(id) => emit('explain', id)" />
      <p class="small soft">k = 2, at 20 °C · <kbd>=</kbd> shows the working</p>
      <BudgetBars :figure="main" />
      <p v-for="f in outcome.figures.slice(1)" :key="f.id" class="also">
        <FigureText :figure="f" @explain="(id) => emit('explain', id)" /> <span class="small soft">{{ f.label }}</span>
      </p>
    </template>
    <p v-else-if="outcome.status === 'void'" class="soft">Nothing: a void run has no concentration.</p>
    <p v-else class="soft">
      The concentration stands here once a mass is weighed.
      <el-button link type="primary" @click="emit('explain', 'plan')">How the mass to weigh came about</el-button>
    </p>
  </div>
</template>

<style scoped>
.gives {
  border-top: 1px solid var(--line);
  padding-top: 0.7rem;
  margin-top: 1rem;
}
.also {
  margin: 0.2rem 0;
}
</style>
