import type { Kind } from '@/bench/kinds'
import CountsPanel from './CountsPanel.vue'
import RunEnded from './RunEnded.vue'
import RunHead from './RunHead.vue'

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
  Head: RunHead,
  Side: CountsPanel,
  Ended: RunEnded,
  mainFigure: () => 'drop',
}
