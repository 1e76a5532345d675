<script setup lang="ts">
import { computed } from 'vue'
import type { Plan, Run } from '@/api/client'
import ShelfNeeds from './ShelfNeeds.vue'
import { useParts } from './useParts'

/** The answer to a question, beside it while it is typed. What is short on the shelf comes first. */
const props = defineProps<{ kind: Plan['kind']; run: Run | undefined; unclear: boolean }>()
const parts = useParts(() => props.kind)
const short = computed(() => props.run?.needs?.some((n) => n.needs > n.left))
</script>

<template>
  <aside aria-label="What it would be" aria-live="polite">
    <ShelfNeeds v-if="run?.needs && short" :needs="run.needs" />
    <p v-if="run?.doubt" class="doubt" role="status">{{ run.doubt }}</p>
    <slot name="first" />
    <component :is="parts.Side" v-if="run && parts" :run="run" />
    <p v-else class="soft">
      {{ unclear ? 'The answer appears here once the question is clear.' : 'Working it out…' }}
    </p>
    <slot />
    <ShelfNeeds v-if="run?.needs && !short" :needs="run.needs" />
  </aside>
</template>

<style scoped>
.doubt {
  color: var(--amber);
  font-weight: 700;
}
</style>
