<script setup lang="ts">
import type { Plan, Run } from '@/api/client'
import { kindOf } from './kinds'

/** The answer to a question, beside it while it is typed. */
defineProps<{ kind: Plan['kind']; run: Run | undefined; unclear: boolean }>()
</script>

<template>
  <aside aria-label="What it would be" aria-live="polite">
    <component :is="kindOf(kind).Side" v-if="run" :run="run" />
    <p v-else class="soft">
      {{ unclear ? 'The answer appears here once the question is clear.' : 'Working it out…' }}
    </p>
    <slot />
  </aside>
</template>
