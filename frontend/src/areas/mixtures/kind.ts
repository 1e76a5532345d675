import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'mixture',
  place: 62,
  path: '/mixtures',
  label: 'Two substances',
  area: { name: 'Absorbance', tab: 'Two substances' },
  group: 'Measure',
  key: 'x',
  does: 'two substances that absorb beside each other',
  begin: 'Read two substances beside each other',
  finished: 'measured',
  page: () => import('./MixturesPage.vue'),
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
