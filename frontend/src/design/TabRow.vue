<script setup lang="ts">
/** A row of names, one of which is open; the arrows go from one to the next. */
const props = defineProps<{ tabs: readonly (readonly [id: string, name: string])[]; label: string }>()
const open = defineModel<string>({ required: true })

function walk(event: KeyboardEvent, step: number) {
  const n = props.tabs.length
  const next = (props.tabs.findIndex(([id]) => id === open.value) + step + n) % n
  open.value = props.tabs[next]![0]
  const row = (event.currentTarget as HTMLElement).parentElement
  row?.querySelectorAll<HTMLElement>('[role=tab]')[next]?.focus()
}
</script>

<template>
  <div class="tabs" role="tablist" :aria-label="label">
    <button
      v-for="[id, name] in tabs"
      :key="id"
      type="button"
      role="tab"
      :aria-selected="id === open"
      :tabindex="id === open ? 0 : -1"
      @click="open = id"
      @keydown.left.prevent="walk($event, -1)"
      @keydown.right.prevent="walk($event, 1)"
    >
      {{ name }}
    </button>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 1.8rem;
  margin-bottom: 0.8rem;
}
button {
  font: inherit;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 3px solid transparent;
  padding: 0.25rem 0;
  cursor: pointer;
}
button[aria-selected='true'] {
  color: var(--green-deep);
  font-weight: 700;
  border-color: var(--green);
}
</style>
