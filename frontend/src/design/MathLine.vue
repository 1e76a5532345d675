<script setup lang="ts">
import katex from 'katex'
import { computed, onMounted, ref, useTemplateRef } from 'vue'

const props = defineProps<{ tex: string }>()
// MathML alone: the browser sets it, and no script or font is needed for it.
const mathml = computed(() =>
  katex.renderToString(props.tex, { output: 'mathml', throwOnError: false, displayMode: true }),
)

/** A formula that is wider than its place can be scrolled, also by keyboard. */
const line = useTemplateRef<HTMLElement>('line')
const wide = ref(false)
onMounted(() => (wide.value = !!line.value && line.value.scrollWidth > line.value.clientWidth))
</script>

<template>
  <!-- eslint-disable-next-line vue/no-v-html -- KaTeX escapes what it is given -->
  <div ref="line" class="math" :tabindex="wide ? 0 : undefined" v-html="mathml"></div>
</template>

<style scoped>
.math {
  overflow: auto hidden;
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
