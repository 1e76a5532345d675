import type { Kind } from '@/bench/kinds'

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
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
