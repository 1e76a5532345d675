<script setup lang="ts">
import { loadNewer, newer } from '@/api/version'
</script>

<template>
  <p v-if="newer" class="small no-print" role="status">
    A newer version of this page is on the device.
    <el-button link type="primary" @click="loadNewer">Load it</el-button> What you typed stays.
  </p>
</template>
