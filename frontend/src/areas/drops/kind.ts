import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'droptip',
  place: 52,
  path: '/drops',
  label: 'Drop tips',
  area: { name: 'Titrations', tab: 'Drop tips' },
  group: 'Measure',
  key: 'o',
  does: 'Drop tips: how large a drop is',
  begin: 'Calibrate a drop tip',
  finished: 'calibrated',
  page: () => import('./DropsPage.vue'),
  run: () => import('./run'),
  mainFigure: () => 'drop',
}
