<script setup lang="ts">
import katex from 'katex'
import { computed } from 'vue'

const props = defineProps<{ tex: string }>()
// MathML alone: the browser sets it, and no script or font is needed for it.
const mathml = computed(() =>
  katex.renderToString(props.tex, { output: 'mathml', throwOnError: false, displayMode: true }),
)
</script>

<template>
  <!-- eslint-disable-next-line vue/no-v-html -- KaTeX escapes what it is given -->
  <div class="math" v-html="mathml"></div>
</template>

<style scoped>
.math {
  overflow-x: auto;
  padding: 0.15rem 0;
}
.math :deep(math) {
  text-align: left;
  margin: 0;
}
.math :deep(annotation) {
  display: none;
}
</style>
