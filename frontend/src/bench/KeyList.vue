<script setup lang="ts">
import { onMounted, useTemplateRef } from 'vue'
import { keysInForce, singleKeys } from './keys'

/** All keys that do something on this page, and whether single letters are among them. */
defineEmits<{ close: [] }>()
const list = useTemplateRef<HTMLElement>('list')
onMounted(() => list.value?.focus())
</script>

<template>
  <section ref="list" tabindex="-1" aria-label="Keys" @keydown.esc="$emit('close')">
    <h2>Keys</h2>
    <dl>
      <template v-for="key in keysInForce.filter((k) => k.does)" :key="key.does">
        <dt>
          <kbd>{{ key.key }}</kbd>
        </dt>
        <dd>{{ key.does }}</dd>
      </template>
      <dt><kbd>Enter</kbd></dt>
      <dd>record what is typed and go on</dd>
      <dt><kbd>Esc</kbd></dt>
      <dd>restore the field, close the working</dd>
      <dt><kbd>↑</kbd> <kbd>↓</kbd></dt>
      <dd>step the last digit</dd>
    </dl>
    <p>
      <el-checkbox v-model="singleKeys">Single letters, digits and signs work as keys on this machine</el-checkbox>
    </p>
    <el-button @click="$emit('close')">Close <kbd>Esc</kbd></el-button>
  </section>
</template>

<style scoped>
section {
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 1rem 1.4rem;
  margin-bottom: 1.4rem;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr max-content 1fr;
  gap: 0.3rem 1rem;
}
dd {
  margin: 0;
}
</style>
