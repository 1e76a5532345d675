import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'readings',
  place: 41,
  path: '/readings',
  label: 'pH readings',
  area: { name: 'pH', tab: 'Readings' },
  group: 'Measure',
  key: 'r',
  does: 'pH readings',
  begin: 'Read the pH of samples',
  finished: 'read',
  page: () => import('./ReadingsPage.vue'),
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures.at(-1)?.id ?? '',
}
