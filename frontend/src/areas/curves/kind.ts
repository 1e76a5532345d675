import type { Kind } from '@/bench/kinds'
import CurvePanel from './CurvePanel.vue'
import RunEnded from './RunEnded.vue'
import RunHead from './RunHead.vue'

export const kind: Kind = {
  name: 'curve',
  place: 51,
  path: '/curves',
  label: 'Titration curves',
  area: { name: 'Titrations', tab: 'Curve with the meter' },
  group: 'Measure',
  key: 'v',
  does: 'Titration curves with the meter',
  begin: 'Take a titration curve',
  finished: 'complete',
  page: () => import('./CurvesPage.vue'),
  Head: RunHead,
  Side: CurvePanel,
  Ended: RunEnded,
  measured: true,
  mainFigure: (run) => run.outcome.figures[0]?.id ?? '',
}
