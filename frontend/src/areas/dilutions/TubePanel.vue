<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, sentence, type DilutionAnswer, type Figure } from '@/api/client'
import BudgetBars from '@/bench/BudgetBars.vue'
import TextField from '@/bench/TextField.vue'
import FigureText from '@/design/FigureText.vue'

/** What one tube of the ladder gives, the way to the bench, and the way back to the
 * undiluted from what was measured on it. */
const props = defineProps<{ answer: DilutionAnswer; picked: number; ready: boolean }>()
const emit = defineEmits<{ explain: []; take: [] }>()
const measured = ref({ value: '', limits: '' })
const back = ref<Figure>()
const says = ref('')
const tube = computed(() => props.answer.ladder.tubes[props.picked])
watch(
  () => [props.answer, props.picked],
  () => (back.value = undefined),
)

async function undilute() {
  says.value = ''
  back.value = undefined
  try {
    const body = { request: props.answer.request, tube: props.picked, ...measured.value }
    back.value = await ask(api.POST('/compute/back', { body }))
  } catch (error) {
    says.value = sentence(error)
  }
}
</script>

<template>
  <template v-if="tube">
    <p class="small soft">Tube {{ tube.label }} gives</p>
    <FigureText :figure="tube.concentration" large @explain="emit('explain')" />
    <p class="small soft">k = 2 · <kbd>=</kbd> shows the working</p>
    <p>
      <el-button type="primary" :disabled="!ready" @click="emit('take')">Take it to the bench</el-button>
    </p>
    <BudgetBars :figure="tube.concentration" />
    <form v-if="tube.taken > 0" class="back" @submit.prevent="undilute">
      <h2>Back to the undiluted</h2>
      <TextField v-model="measured.value" :label="`Measured on tube ${tube.label}, ${tube.concentration.unit}`" />
      <TextField v-model="measured.limits" label="known within ±, k = 2" />
      <el-button native-type="submit">Undilute</el-button>
      <p v-if="back" role="status">
        The undiluted solution holds <strong class="figure">{{ back.text }} ± {{ back.uText }}</strong> {{ back.unit }}.
      </p>
      <p v-if="says" class="problem" role="alert">{{ says }}</p>
    </form>
  </template>
</template>

<style scoped>
.back {
  border-top: 1px solid var(--line);
  margin-top: 1rem;
}
</style>
