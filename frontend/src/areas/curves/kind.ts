import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'curve',
  place: 51,
  path: '/curves',
  label: 'Titration curves',
  area: { name: 'Titrations', tab: 'Curve with the meter' },
  group: 'Measure',
  key: 'v',
  does: 'Titration curves with the meter',
  begin: 'Take a titration curve',
  finished: 'complete',
  page: () => import('./CurvesPage.vue'),
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
