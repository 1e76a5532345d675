<script setup lang="ts">
import { ref } from 'vue'
import TextField from '@/bench/TextField.vue'
import { useForm } from '@/bench/useForm'

/** Where an instrument speaks its line protocol. */
const props = defineProps<{ address: string; keep: (address: string) => Promise<unknown> }>()
const typed = ref(props.address)
const { busy, says, problem, send } = useForm()
</script>

<template>
  <form class="connect" @submit.prevent="send(() => keep(typed))">
    <TextField
      v-model="typed"
      words
      label="Connected at host:port, empty when it is not"
      :problem="problem('/address') || says"
    />
    <el-button native-type="submit" :disabled="busy">Keep this address</el-button>
  </form>
</template>

<style scoped>
.connect {
  display: flex;
  gap: 1rem;
  align-items: center;
  max-width: 34rem;
}
.connect > :first-child {
  flex: 1;
}
</style>
