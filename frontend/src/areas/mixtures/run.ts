import type { RunParts } from '@/bench/kinds'
import Ended from './RunEnded.vue'
import Head from './RunHead.vue'
import Side from './MixturePanel.vue'

/** How a run of this kind is shown. */
export const parts: RunParts = { Head, Side, Ended }
