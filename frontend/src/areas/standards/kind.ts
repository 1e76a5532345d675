import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'standard',
  place: 10,
  path: '/standards',
  label: 'Standards',
  group: 'Prepare',
  key: 's',
  does: 'Standards: a new solution',
  begin: 'Make a standard solution',
  finished: 'on the shelf',
  page: () => import('./StandardsPage.vue'),
  run: () => import('./run'),
  mainFigure: () => 'concentration',
}
