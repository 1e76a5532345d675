import type { Kind } from '@/bench/kinds'

export const kind: Kind = {
  name: 'buffer',
  place: 30,
  path: '/buffers',
  label: 'Buffers',
  group: 'Prepare',
  key: 'u',
  does: 'Buffers',
  begin: 'Make a buffer',
  finished: 'on the shelf',
  page: () => import('./BuffersPage.vue'),
  run: () => import('./run'),
  mainFigure: (run) => run.outcome.figures[0]?.id ?? 'plan',
}
