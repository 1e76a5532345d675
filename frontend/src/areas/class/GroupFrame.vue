<script setup lang="ts">
import { watch } from 'vue'
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router'
import { useSession } from '@/api/session'
import OutboxBanner from '@/bench/OutboxBanner.vue'
import VersionBanner from '@/bench/VersionBanner.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'
import { clock } from '@/design/time'
import { away } from '@/router'
import { useSheet } from './sheet'

/** What a group sees around its sheet: who it is, and its hand. */
const session = useSession()
const own = useSheet()
const route = useRoute()
const router = useRouter()
const { trouble } = useLook(own.look, ['class'])
const { busy, says, send } = useForm()
// A group has no other page.
watch(
  () => route.path,
  (path) => {
    if (!path.startsWith('/class')) void router.replace('/class')
  },
  { immediate: true },
)
async function leave() {
  if (!(await send(session.signOut))) return
  own.sheet = undefined
  await router.push('/class')
}
</script>

<template>
  <div class="group-frame">
    <header>
      <RouterLink to="/class" class="who">{{ own.sheet?.name ?? 'Your sheet' }}</RouterLink>
      <span v-if="own.sheet" class="soft">{{ own.sheet.session }}, until {{ clock(own.sheet.ends) }}</span>
      <span class="far">
        <el-button
          v-if="own.sheet"
          :type="own.sheet.raised ? 'warning' : 'default'"
          :disabled="busy"
          :aria-pressed="own.sheet.raised"
          @click="send(() => own.raise(!own.sheet!.raised))"
          >{{ own.sheet.raised ? 'Hand raised: take it down' : 'Raise your hand' }}</el-button
        >
        <el-button link type="primary" :disabled="busy" @click="leave">Close the sheet</el-button>
      </span>
    </header>
    <main id="sheet" tabindex="-1">
      <OutboxBanner />
      <VersionBanner />
      <p v-if="away" class="problem" role="alert">{{ away }}</p>
      <p v-if="trouble || says" class="problem" role="alert">{{ trouble || says }}</p>
      <ul v-if="own.sheet?.words.length" class="words" aria-label="Said to you">
        <li v-for="w in own.sheet.words.slice(0, 3)" :key="w.at">
          {{ w.said }} <span class="soft small">{{ w.by }}, {{ clock(w.at) }}</span>
        </li>
      </ul>
      <RouterView />
    </main>
  </div>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 1.2rem;
  min-height: 3.2rem;
  padding: 0.3rem 1.4rem;
  border-bottom: 1px solid var(--line);
}
.who {
  font-weight: 700;
  font-size: 1.1rem;
  color: var(--ink);
  text-decoration: none;
}
.far {
  margin-left: auto;
}
.words {
  list-style: none;
  margin: 0 0 1rem;
  padding: 0.5rem 1rem;
  border-left: 5px solid var(--amber);
  background: var(--amber-tint);
}
main {
  max-width: 62rem;
  margin: 0 auto;
  padding: 1.4rem;
}
</style>
