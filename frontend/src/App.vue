<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { sentence } from './api/client'
import { useOutbox } from './api/outbox'
import { useSession } from './api/session'
import { forgetAnswers } from './api/version'
import { useBench } from './bench/bench'
import AppFrame from './bench/AppFrame.vue'
import { forgetSamples } from './bench/useTyped'

// Not part of what everybody's first page needs.
const SignInPage = defineAsyncComponent(() => import('./areas/account/SignInPage.vue'))
const CodePage = defineAsyncComponent(() => import('./areas/class/CodePage.vue'))
const GroupFrame = defineAsyncComponent(() => import('./areas/class/GroupFrame.vue'))

const session = useSession()
const bench = useBench()
const outbox = useOutbox()
const trouble = ref('')
const route = useRoute()
/** A group of a class has a page of its own, which its code opens. */
const isGroup = computed(() => session.account?.role === 'group')
const byCode = computed(() => (session.state === 'out' ? route.path.startsWith('/class') : isGroup.value))

async function start() {
  trouble.value = ''
  try {
    await session.look()
  } catch (error) {
    trouble.value = sentence(error)
    setTimeout(start, 3000)
  }
}
onMounted(start)
// Everything is sized in rem: a larger root makes all of it larger.
watch(
  () => bench.benchMode,
  (on) => document.documentElement.classList.toggle('bench-mode', on),
)
watch(
  () => session.state,
  (state, before) => {
    if (state === 'in' && before !== 'in') void outbox.resume()
    if (state !== 'out') return
    forgetSamples()
    forgetAnswers()
  },
)
</script>

<template>
  <div>
    <component
      :is="isGroup ? GroupFrame : AppFrame"
      v-if="session.state === 'in' || session.state === 'expired'"
      :inert="session.state === 'expired'"
    />
    <component
      :is="byCode ? CodePage : SignInPage"
      v-if="session.state === 'out' || session.state === 'setup' || session.state === 'expired'"
    />
    <main v-else-if="session.state === 'unknown'" class="waiting">
      <p v-if="trouble" role="alert">{{ trouble }} Trying again.</p>
      <p v-else class="soft">Opening the bench…</p>
    </main>
  </div>
</template>

<style scoped>
.waiting {
  padding: 4rem;
}
</style>
