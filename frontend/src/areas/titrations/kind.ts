import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'titration',
  place: 50,
  path: '/titrations',
  label: 'Titrations',
  area: { name: 'Titrations', tab: 'Trials with an indicator' },
  group: 'Measure',
  key: 'i',
  does: 'Titrations: standardise, determine',
  begin: 'Titrate',
  finished: 'titrated',
  page: () => import('./TitrationsPage.vue'),
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
