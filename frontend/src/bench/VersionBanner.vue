<script setup lang="ts">
import { loadNewer, newer } from '@/api/version'
</script>

<template>
  <p v-if="newer" class="banner no-print" role="status">
    A newer version of this page is on the device.
    <el-button link type="primary" @click="loadNewer">Load it</el-button>
    <span class="small soft">What you typed stays.</span>
  </p>
</template>

<style scoped>
.banner {
  position: relative;
  background: var(--green-tint);
  border-left: 5px solid var(--green);
  padding: 0.6rem 1rem;
  margin: 0 0 0.7rem;
}
span {
  margin-left: 0.6rem;
}
</style>
