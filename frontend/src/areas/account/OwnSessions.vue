<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, sentence, type SignedIn } from '@/api/client'
import { useSession } from '@/api/session'
import { when } from '@/design/time'

/** Where whoever is signed in is signed in, and out of all of it. */
const session = useSession()
const list = ref<SignedIn[]>()
const says = ref('')
async function look() {
  try {
    list.value = await ask(api.GET('/sessions'))
  } catch (error) {
    says.value = sentence(error)
  }
}
/** What a browser calls itself, as far as a person would say it. */
const browser = (text: string) => /(Firefox|Edg|Chrome|Safari)/.exec(text)?.[1]?.replace('Edg', 'Edge') ?? 'A program'
</script>

<template>
  <div class="own">
    <el-button v-if="!list" link type="primary" @click="look">Where you are signed in…</el-button>
    <template v-else>
      <ul aria-label="Where you are signed in">
        <li v-for="s in list" :key="s.since" class="small">
          {{ browser(s.browser) }} at {{ s.address }}, since {{ when(s.since) }}{{ s.current ? ' (this one)' : '' }}
        </li>
      </ul>
      <el-button @click="session.signOutEverywhere()">Sign out everywhere</el-button>
    </template>
    <p v-if="says" class="problem small" role="alert">{{ says }}</p>
  </div>
</template>

<style scoped>
.own {
  margin-top: 0.6rem;
}
ul {
  padding-left: 1.1rem;
}
</style>
