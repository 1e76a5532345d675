<script setup lang="ts">
import { computed, ref, useTemplateRef, onMounted } from 'vue'
import { RouterLink } from 'vue-router'
import { ProblemError, sentence } from '@/api/client'
import { useSession } from '@/api/session'

const session = useSession()
const first = computed(() => session.state === 'setup')
const expired = computed(() => session.state === 'expired')

const name = ref('')
const initials = ref('')
const login = ref(session.account?.login ?? '')
const password = ref('')
const word = ref('')
const busy = ref(false)
const says = ref('')
const fields = ref(new Map<string, string>())
const panel = useTemplateRef<HTMLElement>('panel')
onMounted(() => panel.value?.querySelector<HTMLInputElement>(login.value ? '[type=password]' : 'input')?.focus())

async function go() {
  busy.value = true
  says.value = ''
  fields.value = new Map()
  try {
    if (first.value)
      await session.createFirst({
        name: name.value,
        initials: initials.value,
        login: login.value,
        password: password.value,
        word: word.value,
      })
    else await session.signIn(login.value, password.value)
  } catch (error) {
    says.value = sentence(error)
    if (error instanceof ProblemError) fields.value = error.fields
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="cover" :class="{ over: expired }">
    <form ref="panel" class="panel" @submit.prevent="go">
      <p class="name">Vial Bench</p>
      <h1 v-if="first">Make the first instructor</h1>
      <h1 v-else>Sign in</h1>
      <p v-if="first" class="soft">
        This laboratory has no accounts yet. The first one is an instructor’s, who makes the others.
      </p>
      <p v-if="expired" class="soft">
        The session has ended. What you typed is kept and goes on record once you are back.
      </p>
      <template v-if="first">
        <label
          >Set-up word, as the program printed it when it started<el-input
            v-model="word"
            required
            maxlength="80"
            autocomplete="off"
        /></label>
        <p v-if="fields.get('/word')" class="problem small">{{ fields.get('/word') }}</p>
        <label>Your name<el-input v-model="name" required maxlength="80" autocomplete="name" /></label>
        <p v-if="fields.get('/name')" class="problem small">{{ fields.get('/name') }}</p>
        <label>Initials for the record<el-input v-model="initials" required maxlength="8" placeholder="RA" /></label>
        <p v-if="fields.get('/initials')" class="problem small">{{ fields.get('/initials') }}</p>
      </template>
      <label
        >Sign-in name<el-input v-model="login" required maxlength="40" autocomplete="username" autocapitalize="none"
      /></label>
      <p v-if="fields.get('/login')" class="problem small">{{ fields.get('/login') }}</p>
      <label>
        Password<el-input
          v-model="password"
          type="password"
          required
          :autocomplete="first ? 'new-password' : 'current-password'"
        />
      </label>
      <p v-if="fields.get('/password')" class="problem small">{{ fields.get('/password') }}</p>
      <p v-else-if="first" class="soft small">At least 10 characters.</p>
      <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
      <el-button type="primary" native-type="submit" :loading="busy">{{
        first ? 'Make the account' : 'Sign in'
      }}</el-button>
      <p v-if="session.state === 'out'" class="small"><RouterLink to="/class">A group’s code instead</RouterLink></p>
    </form>
  </main>
</template>

<style scoped src="./cover.css"></style>
