/** Does what nobody waits for once the page has nothing else to do, within so many ms at most. */
export function whenIdle(act: () => void, within: number) {
  // Not every browser says when it is idle.
  if ('requestIdleCallback' in globalThis) requestIdleCallback(act, { timeout: within })
  else setTimeout(act, Math.min(within, 1000))
}
