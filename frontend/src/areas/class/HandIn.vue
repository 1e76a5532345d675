<script setup lang="ts">
import { StorageSerializers, useIntervalFn, useLocalStorage, useSessionStorage } from '@vueuse/core'
import { ref } from 'vue'
import { pause, type SheetTask } from '@/api/client'
import { newId } from '@/api/id'
import { useSession } from '@/api/session'
import { useForm } from '@/bench/useForm'
import TextField from '@/bench/TextField.vue'
import { useSheet } from './sheet'

/** The result as the group worked it out, with its digits and its unit. */
const props = defineProps<{ task: SheetTask }>()
const own = useSheet()
const mine = `${useSession().account?.id} ${props.task.id}` // what one group typed is not the next one's
const stated = useSessionStorage(`vialbench-result ${mine}`, '') // it outlives a reload
const note = useSessionStorage(`vialbench-result-note ${mine}`, '')
/** What is to be handed in as soon as the network carries it: under one ID, however often it is sent. */
const waiting = useLocalStorage<{ id: string; stated: string; note: string } | null>(
  `vialbench-hand-in ${mine}`,
  null,
  {
    serializer: StorageSerializers.object,
  },
)
const { busy, says, fields, problem, send } = useForm()
/** Whether it was tried, and could not be sent. */
const away = ref(waiting.value !== null)
let id = newId()
const again = ref(false)
async function hand() {
  waiting.value ??= { id, stated: stated.value, note: note.value }
  const { id: sent, stated: what, note: word } = waiting.value
  const there = await send(async () => {
    try {
      await own.handIn(props.task.id, sent, what, word)
    } catch (error) {
      away.value = pause(error) !== undefined
      if (!away.value) [waiting.value, id] = [null, newId()] // it was refused, and stays in its field
      throw error
    }
  })
  if (!there) return
  waiting.value = null
  away.value = false
  id = newId()
  stated.value = note.value = ''
  again.value = false
}
useIntervalFn(() => void (waiting.value && !busy.value && hand()), 4000, { immediateCallback: true })
</script>

<template>
  <div v-if="waiting && away" class="handed" role="status">
    <p>
      Kept here: <strong class="figure">{{ waiting.stated }}</strong>. It is handed in as soon as the network is back.
    </p>
    <p><el-button link type="primary" @click="waiting = null">Change it</el-button></p>
  </div>
  <div v-else-if="task.state === 'handed' && !again" class="handed" role="status">
    <p>
      You handed in <strong class="figure">{{ task.stated }}</strong><template v-if="task.note">
        ({{ task.note }})</template
      >.
      <template v-if="task.calculated">
        Your figures give <strong class="figure">{{ task.calculated }}</strong>.</template
      >
    </p>
    <p><el-button link type="primary" @click="again = true">Hand in another result…</el-button></p>
  </div>
  <form v-else @submit.prevent="hand">
    <TextField
      v-model="stated"
      words
      :max="40"
      :label="`Your result, in ${task.unit}, as you worked it out`"
      :problem="problem('/stated')"
    />
    <TextField v-model="note" words :max="400" label="A word on it, if you like" :problem="problem('/note')" />
    <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
    <el-button type="primary" native-type="submit" :disabled="busy || !stated.trim()">Hand it in</el-button>
    <el-button v-if="again" link type="primary" @click="again = false">Leave it as it is</el-button>
  </form>
</template>

<style scoped>
.handed {
  border-left: 5px solid var(--green);
  background: var(--green-tint);
  padding: 0.6rem 1rem;
}
form {
  max-width: 26rem;
}
</style>
