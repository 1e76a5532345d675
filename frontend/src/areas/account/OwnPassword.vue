<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useForm } from '@/bench/useForm'

/** Changes the password of whoever is signed in. */
const emit = defineEmits<{ done: [] }>()
const open = ref(false)
const current = ref('')
const password = ref('')
const { busy, says, fields, send } = useForm()

const change = () =>
  send(async () => {
    await ask(api.POST('/session/password', { body: { current: current.value, password: password.value } }))
    emit('done')
  })
</script>

<template>
  <div class="own">
    <el-button v-if="!open" link type="primary" @click="open = true">Change your password…</el-button>
    <form v-else @submit.prevent="change">
      <label
        >Your password now<el-input v-model="current" type="password" maxlength="200" autocomplete="current-password"
      /></label>
      <p v-if="fields.get('/current')" class="problem small" role="alert">{{ fields.get('/current') }}</p>
      <label
        >The new one, at least 10 characters<el-input
          v-model="password"
          type="password"
          maxlength="200"
          autocomplete="new-password"
      /></label>
      <p v-if="fields.get('/password')" class="problem small" role="alert">{{ fields.get('/password') }}</p>
      <p v-if="says && fields.size === 0" class="problem small" role="alert">{{ says }}</p>
      <p class="soft small">You are signed out everywhere else.</p>
      <el-button type="primary" native-type="submit" :loading="busy">Change it</el-button>
    </form>
  </div>
</template>

<style scoped>
.own {
  margin-top: 0.6rem;
}
form {
  display: block;
  width: min(22rem, 100%);
}
label {
  display: block;
  margin-top: 0.5rem;
  color: var(--ink-soft);
  font-size: 0.9rem;
}
.el-button {
  margin-left: 0;
  margin-top: 0.6rem;
}
</style>
