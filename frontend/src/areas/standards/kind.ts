import type { Kind } from '@/bench/kinds'
import RunEnded from './RunEnded.vue'
import RunHead from './RunHead.vue'
import RunSide from './RunSide.vue'

export const kind: Kind = {
  name: 'standard',
  place: 10,
  path: '/standards',
  label: 'Standards',
  group: 'Prepare',
  key: 's',
  does: 'Standards: a new solution',
  begin: 'Make a standard solution',
  finished: 'on the shelf',
  page: () => import('./StandardsPage.vue'),
  Head: RunHead,
  Side: RunSide,
  Ended: RunEnded,
  mainFigure: () => 'concentration',
}
