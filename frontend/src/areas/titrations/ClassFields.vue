<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import TextField from '@/bench/TextField.vue'
import type { Typed } from './question'

/** A word to those who carry it out, and a link that opens the question as it stands: a template
 * for a class. */
defineProps<{ problem: (...fields: string[]) => string }>()
const typed = defineModel<Typed>({ required: true })
const router = useRouter()
const link = ref('')
function makeLink() {
  const { href } = router.resolve({ path: '/titrations', query: { ...typed.value } })
  link.value = new URL(href, window.location.href).href
}
</script>

<template>
  <fieldset>
    <legend>For those who carry it out</legend>
    <TextField
      v-model="typed.note"
      words
      :max="500"
      class="wide"
      label="A word to them, beside the usual cautions"
      placeholder="Waste into the labelled beaker"
      :problem="problem('/note')"
    />
    <el-button class="beside" @click="makeLink">A link for a class</el-button>
  </fieldset>
  <p v-if="link" class="small">
    Whoever opens this link finds the question filled in as it stands here:
    <input
      :value="link"
      readonly
      class="link"
      aria-label="Link for a class"
      @focus="($event.target as HTMLInputElement).select()"
    />
  </p>
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.beside {
  margin-top: 1.35rem; /* beside the field, not its label */
}
.link {
  display: block;
  width: 100%;
  max-width: 44rem;
  margin-top: 0.2rem;
  padding: 0.3rem 0.5rem;
  font: 0.87rem var(--mono);
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 3px;
}
</style>
