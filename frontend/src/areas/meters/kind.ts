import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'calibration',
  place: 40,
  path: '/meters',
  label: 'pH meter',
  area: { name: 'pH', tab: 'Meters' },
  group: 'Measure',
  key: 'p',
  does: 'pH meters',
  begin: 'Calibrate a pH meter',
  finished: 'calibrated',
  page: () => import('./MetersPage.vue'),
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? 'slope',
}
