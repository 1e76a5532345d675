import type { Article } from '@/api/client'

/** How the bar of an article is drawn: parts of its length from 0 to 1. */
export interface Level {
  /** What is usable, of it what sessions take, and where the minimum lies. */
  usable: number
  planned: number
  minimum: number
  /** What sessions want beyond what is there. */
  short: number
}

export function levelOf(a: Article): Level {
  const { usable, planned } = a.standing
  const most = Math.max(usable, planned, a.article.minimum * 1.25, 1e-9)
  return {
    usable: usable / most,
    planned: Math.min(usable, planned) / most,
    minimum: a.article.minimum / most,
    short: Math.max(0, planned - usable) / most,
  }
}

/** “Fri 4 Dec” of 2026-12-04. */
export const shortDay = (day: string) =>
  new Date(`${day}T12:00`)
    .toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' })
    .replace(',', '')

/** What is said of a container besides how much is left in it. */
export const wordsOf = (c: Article['containers'][number], today: string) =>
  [
    c.place,
    c.opened ? `opened ${c.opened}` : 'not opened',
    c.expires ? `${c.expires < today ? 'expired' : 'expires'} ${c.expires}` : '',
  ]
    .filter(Boolean)
    .join(', ')
