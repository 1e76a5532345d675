import { ref } from 'vue'
import { createRouter, createWebHistory } from 'vue-router'
import { kinds } from './bench/kinds'

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', redirect: '/today' },
    { path: '/today', component: () => import('./areas/today/TodayPage.vue'), meta: { title: 'Today' } },
    {
      path: '/sessions',
      component: () => import('./areas/sessions/SessionsPage.vue'),
      meta: { title: 'Sessions' },
    },
    {
      path: '/sessions/:id',
      component: () => import('./areas/sessions/SessionPage.vue'),
      props: true,
      meta: { title: 'Session' },
    },
    {
      path: '/sessions/:id/class',
      component: () => import('./areas/sessions/ClassPage.vue'),
      props: true,
      meta: { title: 'The class' },
    },
    {
      path: '/sessions/:id/results/:task',
      component: () => import('./areas/sessions/ResultsPage.vue'),
      props: true,
      meta: { title: 'Results' },
    },
    { path: '/class', component: () => import('./areas/class/ClassEntry.vue'), meta: { title: 'Your sheet' } },
    {
      path: '/class/:task/:id',
      component: () => import('./areas/class/GroupRun.vue'),
      props: true,
      meta: { title: 'Your sheet' },
    },
    ...kinds.map((kind) => ({ path: kind.path, component: kind.page, meta: { title: kind.label } })),
    { path: '/runs/:id', component: () => import('./bench/RunPage.vue'), props: true, meta: { title: 'Run' } },
    { path: '/shelf', component: () => import('./areas/shelf/ShelfPage.vue'), meta: { title: 'Shelf' } },
    {
      path: '/shelf/:id',
      component: () => import('./areas/shelf/BottlePage.vue'),
      props: true,
      meta: { title: 'Bottle' },
    },
    { path: '/store', component: () => import('./areas/stockroom/StorePage.vue'), meta: { title: 'Store' } },
    { path: '/logbook', component: () => import('./areas/logbook/LogbookPage.vue'), meta: { title: 'Logbook' } },
    {
      path: '/setup/:part?',
      component: () => import('./areas/setup/SetupPage.vue'),
      props: true,
      meta: { title: 'Lab setup' },
    },
    { path: '/:rest(.*)*', component: () => import('./areas/today/NotFoundPage.vue'), meta: { title: 'Nothing here' } },
  ],
})

/** Why a page that was asked for did not come: its program is fetched when it is first opened. */
export const away = ref('')
/** Pages whose program did not come. A browser may keep in mind that a part of a program failed, and not ask for it
 * again: asked for once more while the server is there, the page is opened afresh. */
const missed = new Set<string>()
const isThere = () =>
  fetch('/', { method: 'HEAD', cache: 'no-store' }).then(
    (answer) => answer.ok,
    () => false,
  )
router.onError(async (_error, to) => {
  if (missed.has(to.path) && (await isThere())) {
    window.location.assign(to.fullPath)
    return
  }
  missed.add(to.path)
  away.value = `“${String(to.meta.title ?? 'This page')}” cannot be fetched now: there is no connection, or the program was replaced by a newer one. What is kept here stays; try again, or reload the page once it is back.`
})
router.afterEach((to) => {
  away.value = ''
  document.title = `${String(to.meta.title ?? '')} · Vial Bench`
})
