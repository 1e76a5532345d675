import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'absorbance',
  place: 60,
  path: '/absorbance',
  label: 'Calibration lines',
  area: { name: 'Absorbance', tab: 'Lines' },
  group: 'Measure',
  key: 'a',
  does: 'Absorbance: a calibration line and its unknowns',
  begin: 'Measure absorbances',
  finished: 'measured',
  page: () => import('./AbsorbancePage.vue'),
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
