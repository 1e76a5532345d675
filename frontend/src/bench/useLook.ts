import { onMounted, onScopeDispose, ref } from 'vue'
import { pause, sentence } from '@/api/client'
import { onChange } from '@/api/events'
import { latest } from '@/api/latest'

/** Looks something up when a page opens, and again whenever one of the topics changes. What went
 * wrong is said in `trouble`; where that may pass, it is tried again. Changes that come within `apart` ms of one
 * another are looked at together. */
export function useLook(load: () => Promise<unknown>, topics: string[], trouble = ref(''), apart?: number) {
  const asked = latest()

  async function look() {
    const current = asked()
    try {
      await load()
      if (current()) trouble.value = ''
    } catch (error) {
      if (!current()) return
      trouble.value = sentence(error)
      const wait = pause(error)
      if (wait !== undefined) setTimeout(() => current() && void look(), wait)
    }
  }
  onMounted(look)
  onChange(topics, look, apart)
  onScopeDispose(asked)

  return { trouble, look }
}
