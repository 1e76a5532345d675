import { useLocalStorage } from '@vueuse/core'
import { onMounted, onScopeDispose, shallowRef } from 'vue'

export interface Key {
  /** The key as KeyboardEvent.key has it, in lower case; “ctrl enter” with the control key held. */
  key: string
  /** What it does, for the list of keys; empty of one that is not listed. */
  does: string
  act: () => void
}

/** The keys that work now, for the list of keys. It is shallow: a key is taken out by what it is, not by a proxy of it. */
export const keysInForce = shallowRef<Key[]>([])

/** Whether a single letter, digit or sign does something on this machine: who dictates, or strikes
 * keys by chance, can do without. */
export const singleKeys = useLocalStorage('vialbench.single-keys', true)

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    (target instanceof HTMLInputElement && target.type !== 'checkbox' && target.type !== 'radio') ||
    target instanceof HTMLTextAreaElement)

/** Makes keys work while a component is there, except while something is typed. */
export function useKeys(keys: Key[]) {
  function press(event: KeyboardEvent) {
    if (event.altKey || event.defaultPrevented) return
    const held = event.ctrlKey || event.metaKey
    const key = (held ? 'ctrl ' : '') + event.key.toLowerCase()
    if (isTyping(event.target) && !held && key !== 'escape') return // these write nothing
    if (!singleKeys.value && key.length === 1) return
    const hit = keys.find((k) => k.key === key)
    if (!hit) return
    event.preventDefault()
    hit.act()
  }
  onMounted(() => {
    document.addEventListener('keydown', press)
    keysInForce.value = [...keysInForce.value, ...keys]
  })
  onScopeDispose(() => {
    document.removeEventListener('keydown', press)
    keysInForce.value = keysInForce.value.filter((k) => !keys.includes(k))
  })
}
