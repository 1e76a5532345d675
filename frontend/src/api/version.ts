import { ref } from 'vue'
import { whenIdle } from './idle'

/** Whether a newer version of the page waits on this device. */
export const newer = ref(false)
let waiting: ServiceWorker | null = null

/** Keeps the page on this device, so that it opens without a network: once people have what they wait for. */
export function keepPage() {
  if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return
  // One that came since the page was opened last is taken before anybody types.
  void navigator.serviceWorker.getRegistration().then((kept) => {
    waiting = kept?.waiting ?? null
    if (waiting) loadNewer()
  })
  whenIdle(keep, 10_000)
}

async function keep() {
  const kept = await navigator.serviceWorker.register('/sw.js').catch(() => undefined)
  const look = () => {
    waiting = kept?.waiting ?? null
    newer.value = waiting !== null && navigator.serviceWorker.controller !== null
  }
  look()
  kept?.addEventListener('updatefound', () => kept.installing?.addEventListener('statechange', look))
}

/** Loads the newer version: what was typed stays in its fields. */
export function loadNewer() {
  navigator.serviceWorker.addEventListener('controllerchange', () => location.reload())
  waiting?.postMessage('take over')
}

/** Forgets the answers that are kept: whoever comes next on this device is somebody else. */
export const forgetAnswers = () => void globalThis.caches?.delete('vialbench-answers')
