import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, type Bench } from '@/api/client'

/** What is on the bench, and whether the sheet fills the screen. */
export const useBench = defineStore('bench', () => {
  const bench = ref<Bench>()
  const benchMode = ref(false)
  /** The area that the run on the screen belongs to. */
  const runArea = ref('')

  async function look() {
    bench.value = await ask(api.GET('/bench'))
  }

  async function change(
    to: Partial<{ session: string; waterTemperature: number; balanceId: string; meterId: string }>,
  ) {
    const now = bench.value
    if (!now) return
    bench.value = await ask(
      api.PUT('/bench', {
        body: {
          session: now.session,
          waterTemperature: now.waterTemperature,
          ...(now.balance ? { balanceId: now.balance.id } : {}),
          ...(now.meter ? { meterId: now.meter.id } : {}),
          ...to,
          version: now.version,
        },
      }),
    )
  }

  return { bench, benchMode, runArea, look, change }
})
