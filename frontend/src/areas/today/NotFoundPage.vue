<script setup lang="ts">
import { RouterLink } from 'vue-router'
</script>

<template>
  <h1>Page not found</h1>
  <p>
    The bottle or run may have another number. <RouterLink to="/shelf">Look on the shelf</RouterLink>, or
    <RouterLink to="/today">go to Today</RouterLink>.
  </p>
</template>
