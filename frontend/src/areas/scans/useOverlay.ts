import { computed, ref, watch } from 'vue'
import { api, ask, sentence, type RunSummary, type ScanView } from '@/api/client'

interface Points {
  title: string
  x: number[]
  y: number[]
}

/** Another scan over this one: as it is, the difference of the two, or their ratio. */
export function useOverlay(run: () => string, view: () => ScanView | undefined) {
  const scans = ref<RunSummary[]>([])
  const other = ref('')
  const way = ref<'beside' | 'difference' | 'ratio'>('beside')
  const points = ref<Points>()
  const shown = ref<Points>()
  const says = ref('')

  async function list() {
    const page = await ask(api.GET('/runs', { params: { query: { status: 'finished', kind: 'scan' } } }))
    scans.value = page.items.filter((r) => r.id !== run())
  }
  void list().catch(() => undefined)

  async function compare() {
    shown.value = undefined
    says.value = ''
    const of = view()
    if (!other.value || !of) return
    const id = other.value
    if (points.value?.title !== id) {
      const found = await ask(api.GET('/runs/{id}', { params: { path: { id } } }))
      if (found.outcome.view.kind !== 'scan') return
      points.value = { title: id, x: found.outcome.view.x, y: found.outcome.view.y }
    }
    const { x, y } = points.value!
    if (way.value === 'beside') {
      shown.value = { title: id, x, y }
      return
    }
    const body = { a: { x: of.x, y: of.y }, b: { x, y } }
    const got = await ask(api.POST('/compute/overlay', { body }))
    if (id === other.value) shown.value = { title: id, x: got.x, y: got[way.value as 'difference' | 'ratio'] }
  }
  watch([other, way, () => view()?.x.length], () => compare().catch((error: unknown) => (says.value = sentence(error))))
  return { scans, other, way, says, compared: computed(() => shown.value) }
}
