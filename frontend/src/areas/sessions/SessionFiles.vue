<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { SessionPlan } from '@/api/client'
import { asFile } from './plan'

/** A session on paper and as files. */
const props = defineProps<{ id: string; plan: SessionPlan }>()

function save() {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(asFile(props.plan))
  link.download = `${props.plan.title.replace(/[^\p{L}\p{N}]+/gu, '-') || 'session'}.json`
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}
</script>

<template>
  <p class="no-print">
    <RouterLink :to="`/sessions/${id}/class`"><strong>The class: codes, tasks, results</strong></RouterLink>
  </p>
  <p class="no-print">
    <a :href="`/api/v1/lab-sessions/${id}/sheet.pdf`" target="_blank" rel="noopener">Sheet for paper</a> ·
    <a :href="`/api/v1/lab-sessions/${id}/cards.pdf`" target="_blank" rel="noopener">A card for each group</a> ·
    <a :href="`/api/v1/lab-sessions/${id}/session.xlsx`" download>Lists and readings as a workbook</a> ·
    <a :href="`/api/v1/lab-sessions/${id}/tasks.csv`" download>Tasks as a table</a> ·
    <el-button link type="primary" @click="save">The session as a file</el-button>
  </p>
</template>
