<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '@/api/session'
import CodePage from './CodePage.vue'
import SheetPage from './SheetPage.vue'

/** The sheet of the group that has opened it; for anybody else, the way to open one. */
const session = useSession()
const isGroup = computed(() => session.account?.role === 'group')
</script>

<template>
  <SheetPage v-if="isGroup" />
  <CodePage v-else />
</template>
