<script lang="ts">
import { shallowRef, type ShallowRef } from 'vue'

// It is large, and most pages set no formula: it comes with the first one.
const katex: ShallowRef<(typeof import('katex'))['default'] | undefined> = shallowRef()
let asked: Promise<void> | undefined
const load = () => (asked ??= import('katex').then((module) => void (katex.value = module.default)))
</script>

<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'

const props = defineProps<{ tex: string }>()
load().catch(() => (asked = undefined)) // the next formula tries again
// MathML alone: the browser sets it, and no script or font is needed for it.
const mathml = computed(
  () => katex.value?.renderToString(props.tex, { output: 'mathml', throwOnError: false, displayMode: true }) ?? '',
)

/** A formula that is wider than its place can be scrolled, also by keyboard. */
const line = useTemplateRef<HTMLElement>('line')
const wide = ref(false)
watch(
  mathml,
  async () => {
    await nextTick()
    wide.value = !!line.value && line.value.scrollWidth > line.value.clientWidth
  },
  { immediate: true },
)
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
