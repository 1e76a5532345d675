import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, type Bench } from '@/api/client'

/** What is on the bench, and whether the sheet fills the screen. */
export const useBench = defineStore('bench', () => {
  const bench = shallowRef<Bench>()
  const benchMode = ref(false)
  /** The area that the run on the screen belongs to. */
  const runArea = ref('')

  const usual = ref<NonNullable<Bench['balance']>['balance']>()
  /** What is weighed on: the balance of the bench, or the usual one where none stands there. */
  const balance = computed(() => bench.value?.balance?.balance ?? usual.value)

  async function show(now: Bench) {
    bench.value = now
    if (!now.balance) usual.value ??= await ask(api.GET('/balances/usual'))
  }
  let asking: Promise<void> | undefined
  async function look() {
    try {
      await (asking = ask(api.GET('/bench')).then(show))
    } finally {
      asking = undefined
    }
  }
  /** Resolves once it is known what is on the bench; it is not asked a second time for that. */
  async function known() {
    if (!bench.value) await (asking ?? look())
  }

  async function change(
    to: Partial<{ session: string; waterTemperature: number; balanceId: string; meterId: string }>,
  ) {
    const now = bench.value
    if (!now) return
    await show(
      await ask(
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
      ),
    )
  }

  return { bench, balance, benchMode, runArea, look, known, change }
})
