import type { Kind } from '@/bench/kinds'
import BeakersPanel from './BeakersPanel.vue'
import RunEnded from './RunEnded.vue'
import RunHead from './RunHead.vue'

export const kind: Kind = {
  name: 'capacity',
  place: 45,
  path: '/capacity',
  label: 'Capacity',
  group: 'Measure',
  key: 'c',
  does: 'Buffer capacity',
  begin: 'Test the capacity of a buffer',
  finished: 'tested',
  page: () => import('./CapacityPage.vue'),
  Head: RunHead,
  Side: BeakersPanel,
  Ended: RunEnded,
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
