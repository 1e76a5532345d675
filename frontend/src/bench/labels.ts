import { useLocalStorage } from '@vueuse/core'
import { api } from '@/api/client'

export type Paper = 'a4' | 'letter' | 'vials' | 'vial' | 'label'

/** What labels were printed on last on this machine: its printer has that in. */
export const usePaper = () => useLocalStorage<Paper>('vialbench.paper', 'label')

/** The labels of bottles, as a file to print. */
export function labelsOf(bottles: readonly string[], paper: Paper, start = 1, copies = 1): string {
  return `/api/v1/labels?${bottles.map((id) => `bottle=${id}`).join('&')}&paper=${paper}&start=${start}&copies=${copies}`
}

/** Puts on record that labels went to the printer. */
export const notePrinted = (bottles: readonly string[]) =>
  void api.POST('/labels/printed', { body: { bottles: [...bottles] } })
