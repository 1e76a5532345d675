<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router'
import { useBench } from './bench'
import BenchStrip from './BenchStrip.vue'
import { away } from '@/router'
import OutboxBanner from './OutboxBanner.vue'
import VersionBanner from './VersionBanner.vue'
import { useKeys } from './keys'
import { kindOf, kinds, sharing, type Kind } from './kinds'
import { useTask } from './task'

const KeyList = defineAsyncComponent(() => import('./KeyList.vue'))

interface Area {
  path: string
  label: string
  /** All paths that are in it. */
  paths?: string[]
}
const areaOf = (kind: Kind): Area => ({
  path: sharing(kind)[0]!.path,
  label: kind.area?.name ?? kind.label,
  paths: sharing(kind).map((k) => k.path),
})
const groups: { name: string; areas: Area[] }[] = [
  {
    name: '',
    areas: [
      { path: '/today', label: 'Today' },
      { path: '/sessions', label: 'Sessions' },
    ],
  },
  ...(['Prepare', 'Measure', 'Teach'] as const)
    .map((name) => ({
      name,
      areas: kinds.filter((kind) => kind.group === name && sharing(kind)[0] === kind).map(areaOf),
    }))
    .filter((group) => group.areas.length > 0),
  {
    name: 'Keep',
    areas: [
      { path: '/shelf', label: 'Shelf' },
      { path: '/store', label: 'Store' },
      { path: '/logbook', label: 'Logbook' },
      { path: '/setup', label: 'Lab setup' },
    ],
  },
]
const route = useRoute()
const router = useRouter()
const bench = useBench()
const task = useTask()
const listingKeys = ref(false)

const inArea = ({ path, paths = [path] }: Area) =>
  paths.some((p) => route.path.startsWith(p) || (p === bench.runArea && route.path.startsWith('/runs')))
/** The tabs of an area, on the page of each of its kinds. */
const tabs = computed(() => {
  const kind = kinds.find((k) => k.path === route.path)
  return kind && sharing(kind).length > 1 ? sharing(kind) : []
})
const searchField = () => document.querySelector<HTMLElement>('[data-search]')
function leaveOnEscape(event: KeyboardEvent) {
  if (event.key === 'Escape') (event.target as HTMLElement).blur()
}
useKeys([
  { key: 't', does: 'Today', act: () => void router.push('/today') },
  { key: 'e', does: 'Sessions', act: () => void router.push('/sessions') },
  ...kinds.map(({ key, does, path }) => ({ key, does, act: () => void router.push(path) })),
  { key: 'h', does: 'Shelf', act: () => void router.push('/shelf') },
  { key: 'k', does: 'Store', act: () => void router.push('/store') },
  { key: 'l', does: 'Logbook', act: () => void router.push('/logbook') },
  { key: 'b', does: 'bench mode, on and off', act: () => (bench.benchMode = !bench.benchMode) },
  { key: '?', does: 'this list', act: () => (listingKeys.value = !listingKeys.value) },
  {
    key: '/',
    does: 'search',
    act: async () => {
      if (!searchField()) await router.push('/logbook')
      for (let i = 0; i < 50 && !searchField(); i++) await new Promise((go) => setTimeout(go, 20))
      searchField()?.focus()
      searchField()?.addEventListener('keydown', leaveOnEscape)
    },
  },
])
</script>

<template>
  <div class="frame" :class="{ alone: bench.benchMode }">
    <a class="skip" href="#sheet">To the sheet</a>
    <nav class="rail" aria-label="Areas">
      <p class="name">Vial Bench</p>
      <template v-for="group in groups" :key="group.name">
        <p v-if="group.name" class="group">{{ group.name }}</p>
        <RouterLink
          v-for="area in group.areas"
          :key="area.path"
          :to="area.path"
          :class="{ at: inArea(area) }"
          :aria-current="inArea(area) ? 'page' : undefined"
          >{{ area.label }}</RouterLink
        >
      </template>
      <button type="button" class="keys" @click="bench.benchMode = true">Bench mode <kbd>b</kbd></button>
      <button type="button" class="keys" @click="listingKeys = !listingKeys">Keys <kbd>?</kbd></button>
    </nav>
    <BenchStrip />
    <main id="sheet" tabindex="-1">
      <button v-if="bench.benchMode" type="button" class="leave no-print" @click="bench.benchMode = false">
        Leave bench mode <kbd>b</kbd>
      </button>
      <OutboxBanner />
      <VersionBanner />
      <p v-if="away" class="problem" role="alert">{{ away }}</p>
      <KeyList v-if="listingKeys" @close="listingKeys = false" />
      <nav v-if="tabs.length" class="tabs" aria-label="In this area">
        <RouterLink
          v-for="kind in tabs"
          :key="kind.path"
          :to="kind.path"
          :class="{ at: kind.path === route.path }"
          :aria-current="kind.path === route.path ? 'page' : undefined"
          >{{ kind.area!.tab }}</RouterLink
        >
      </nav>
      <p v-if="task.atHand && route.path === kindOf(task.atHand.kind).path" class="for-task no-print" role="status">
        For <RouterLink :to="`/sessions/${task.atHand.session}`">{{ task.atHand.of }}</RouterLink>:
        {{ task.atHand.title }}.
        <el-button link type="primary" @click="task.leave()">Not for it</el-button>
      </p>
      <RouterView />
    </main>
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 3.2rem 1fr / 9.6rem minmax(0, 1fr);
  min-height: 100vh;
}
.for-task {
  border-left: 5px solid var(--green);
  background: var(--green-tint);
  padding: 0.4rem 0.9rem;
  margin-bottom: 1rem;
}
.rail {
  grid-row: 1 / 3;
  border-right: 1px solid var(--line);
  padding-bottom: 1rem;
  position: sticky;
  top: 0;
  height: 100vh;
  overflow-y: auto;
  display: flex;
  flex-direction: column;
}
.name {
  font-weight: 700;
  font-size: 1.1rem;
  height: 3.2rem;
  line-height: 3.2rem;
  padding-left: 1.3rem;
  margin: 0 0 0.6rem;
  border-bottom: 1px solid var(--line);
  flex: none;
}
.group {
  color: var(--ink-soft);
  font-size: 0.8rem;
  margin: 1.2rem 0 0.2rem 1.3rem;
}
.rail a {
  color: var(--ink);
  text-decoration: none;
  padding: 0.45rem 1rem 0.45rem 1.1rem;
  border-left: 3px solid transparent;
}
.rail a:hover {
  text-decoration: underline;
}
.rail a.at {
  background: var(--green-tint);
  border-left-color: var(--green);
  color: var(--green-deep);
  font-weight: 700;
}
.rail a + .keys {
  margin-top: auto;
}
.keys {
  margin: 0 1.3rem;
  font: inherit;
  font-size: 0.87rem;
  background: none;
  border: 0;
  color: var(--ink-soft);
  text-align: left;
  padding: 0.4rem 0;
  cursor: pointer;
}
main {
  padding: 1.4rem 1.9rem 3rem;
  outline: none;
  min-width: 0;
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 1rem;
  top: 0.6rem;
  background: var(--sheet);
  padding: 0.5rem;
  z-index: 60;
}
.frame.alone {
  grid-template: 1fr / minmax(0, 1fr);
}
.leave {
  position: fixed;
  right: 1rem;
  bottom: 1rem;
  z-index: 2;
  font: inherit;
  min-height: 48px;
  padding: 0 1rem;
  border: 1px solid var(--line-strong);
  border-radius: 3px;
  background: var(--sheet);
  cursor: pointer;
}
.frame.alone .rail,
.frame.alone :deep(.strip) {
  display: none;
}
@media print {
  .frame {
    display: block;
  }
  main {
    padding: 0;
  }
}
@media (max-width: 760px) {
  .frame {
    grid-template: auto auto 1fr / minmax(0, 1fr);
  }
  .rail {
    grid-row: auto;
    position: static;
    height: auto;
    flex-direction: row;
    overflow-x: auto;
    padding: 0 0.5rem;
    border-bottom: 1px solid var(--line);
  }
  .rail .name,
  .rail .group,
  .rail .keys {
    display: none;
  }
  main {
    padding: 1rem;
  }
}
</style>
