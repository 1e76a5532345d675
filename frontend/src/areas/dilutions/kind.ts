import type { Kind } from '@/bench/kinds'
import RackPanel from './RackPanel.vue'
import RunEnded from './RunEnded.vue'
import RunHead from './RunHead.vue'

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
  Head: RunHead,
  Side: RackPanel,
  Ended: RunEnded,
  mainFigure: (run) => run.outcome.figures.at(-1)?.id ?? 'tube 1',
}
