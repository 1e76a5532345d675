import type { Kind } from '@/bench/kinds'
import RunEnded from './RunEnded.vue'
import RunHead from './RunHead.vue'
import TrialsPanel from './TrialsPanel.vue'

export const kind: Kind = {
  name: 'titration',
  place: 50,
  path: '/titrations',
  label: 'Titrations',
  area: { name: 'Titrations', tab: 'Trials with an indicator' },
  group: 'Measure',
  key: 'i',
  does: 'Titrations: standardise, determine',
  begin: 'Titrate',
  finished: 'titrated',
  page: () => import('./TitrationsPage.vue'),
  Head: RunHead,
  Side: TrialsPanel,
  Ended: RunEnded,
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
