import type { Kind } from '@/bench/kinds'
import BeakerPanel from './BeakerPanel.vue'
import RunEnded from './RunEnded.vue'
import RunHead from './RunHead.vue'

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
  Head: RunHead,
  Side: BeakerPanel,
  Ended: RunEnded,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? 'plan',
}
