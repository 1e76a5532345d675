<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type CalendarFeed } from '@/api/client'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import { when } from '@/design/time'

/** Private addresses at which a calendar program reads the sessions: made, shown once, withdrawn. */
const feeds = ref<CalendarFeed[]>([])
const made = ref('')
const { busy, says, send } = useForm()
const { trouble, look } = useLook(async () => {
  feeds.value = await ask(api.GET('/calendar-feeds'))
}, [])

const make = () =>
  send(async () => {
    const { path } = await ask(api.POST('/calendar-feeds'))
    made.value = new URL(path!, window.location.href).href
    await look()
  })
const withdraw = (id: string) =>
  send(async () => {
    await ask(api.DELETE('/calendar-feeds/{id}', { params: { path: { id } } }))
    made.value = ''
    await look()
  })
</script>

<template>
  <details>
    <summary>In a calendar program</summary>
    <p class="soft">
      A calendar program that is given a private address shows the sessions and their tasks, and follows what changes.
      Whoever has the address can read them: keep it to yourself, and withdraw it when it is not used any more.
    </p>
    <p v-if="trouble || says" class="problem" role="alert">{{ trouble || says }}</p>
    <p v-if="made" role="status">
      Give this address to the program now; it is not shown again:<br />
      <code class="address">{{ made }}</code>
    </p>
    <ul v-if="feeds.length" aria-label="Private addresses">
      <li v-for="(feed, i) in feeds" :key="feed.id">
        Made {{ when(feed.at) }}
        <el-button
          link
          type="danger"
          :disabled="busy"
          :aria-label="`Withdraw address ${i + 1}`"
          @click="withdraw(feed.id)"
          >Withdraw it</el-button
        >
      </li>
    </ul>
    <p><el-button :disabled="busy" @click="make">Make a private address</el-button></p>
  </details>
</template>

<style scoped>
details {
  max-width: 44rem;
}
.address {
  overflow-wrap: anywhere;
  user-select: all;
}
</style>
