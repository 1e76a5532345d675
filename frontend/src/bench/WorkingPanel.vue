<script setup lang="ts">
import { onMounted, useTemplateRef } from 'vue'
import type { WorkingLine } from '@/api/client'
import MathLine from '@/design/MathLine.vue'
import SpeciesText from '@/design/SpeciesText.vue'

defineProps<{ lines: WorkingLine[]; title: string }>()
const emit = defineEmits<{ close: [] }>()
const panel = useTemplateRef<HTMLElement>('panel')
onMounted(() => panel.value?.focus({ preventScroll: true }))
</script>

<template>
  <section
    ref="panel"
    class="working"
    tabindex="-1"
    :aria-label="`Working: ${title}`"
    @keydown.esc.stop="emit('close')"
  >
    <header>
      <h2>Working: {{ title }}</h2>
      <el-button size="small" @click="emit('close')">Close <kbd>Esc</kbd></el-button>
    </header>
    <article v-for="line in lines" :key="line.title">
      <h3><SpeciesText :text="line.title" /></h3>
      <MathLine :tex="line.formula" />
      <MathLine :tex="line.substituted" />
      <p class="result figure">{{ line.result }}</p>
      <ul class="small soft">
        <li v-for="from in line.from" :key="from"><SpeciesText :text="from" /></li>
      </ul>
    </article>
  </section>
</template>

<style scoped>
.working {
  outline: none;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
  gap: 1rem;
}
article {
  border-top: 1px solid var(--line);
  padding: 0.7rem 0;
}
.result {
  font-weight: 700;
  margin: 0.2rem 0;
}
.result::before {
  content: '= ';
}
ul {
  margin: 0;
  padding-left: 1.1rem;
}
</style>
