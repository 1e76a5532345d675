/// <reference lib="webworker" />
import { clientsClaim } from 'workbox-core'
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching'
import { NavigationRoute, registerRoute } from 'workbox-routing'
import { NetworkFirst } from 'workbox-strategies'

// The page opens without a network: all its files are kept, of one version together, and the last answers
// of what the page of a run asks for.
declare const self: ServiceWorkerGlobalScope
/** What the build made, put in by vite.config.ts. */
declare const FILES_OF_THIS_VERSION: { url: string; revision: string | null }[]

clientsClaim()
cleanupOutdatedCaches()
precacheAndRoute(FILES_OF_THIS_VERSION)
registerRoute(new NavigationRoute(createHandlerBoundToURL('/'), { denylist: [/^\/(api|pictograms|healthz|readyz)/] }))
registerRoute(
  ({ url }) => /^\/api\/v1\/(setup|bench|settings|meters|runs\/[0-9a-f-]{36}(\/plan)?)$/.test(url.pathname),
  new NetworkFirst({ cacheName: 'vialbench-answers' }),
)
self.addEventListener('message', ({ data }) => {
  if (data === 'take over') void self.skipWaiting()
})
