<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Run } from '@/api/client'
import { handOver } from '@/bench/useTyped'

/** What comes after a scan: the line at the wavelength that was chosen. */
const props = defineProps<{ run: Run }>()
const router = useRouter()
const view = computed(() => (props.run.outcome.view.kind === 'scan' ? props.run.outcome.view : undefined))
function measure() {
  handOver('absorbance', { wavelength: String(view.value?.chosen ?? '') })
  void router.push('/absorbance')
}
</script>

<template>
  <h2>Scanned</h2>
  <p v-if="view">
    To be measured at {{ view.chosen }} nm.
    <el-button link type="primary" @click="measure">Measure a line there</el-button>
  </p>
</template>
