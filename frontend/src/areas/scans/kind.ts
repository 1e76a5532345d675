import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'scan',
  place: 61,
  path: '/scans',
  label: 'Scans',
  area: { name: 'Absorbance', tab: 'Scans' },
  group: 'Measure',
  key: 'n',
  does: 'scans over wavelengths',
  begin: 'Scan a solution',
  finished: 'scanned',
  page: () => import('./ScansPage.vue'),
  run: () => import('./run'),
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
