import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'dilution',
  place: 20,
  path: '/dilutions',
  label: 'Dilutions',
  group: 'Prepare',
  key: 'd',
  does: 'Dilutions',
  begin: 'Dilute a stock',
  finished: 'on the shelf',
  page: () => import('./DilutionsPage.vue'),
  run: () => import('./run'),
  mainFigure: (run) => run.outcome.figures.at(-1)?.id ?? 'tube 1',
}
