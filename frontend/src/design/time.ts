/** The time of day of a moment, in the lab's own time zone. */
export function clock(moment: string): string {
  return new Date(moment).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
}

/** The day of a moment, like 2026-11-25. */
export function day(moment: string): string {
  return new Date(moment).toLocaleDateString('sv-SE')
}

/** "today 09:12", "yesterday 16:40", or the day with the time. */
export function when(moment: string): string {
  const days = Math.round((Date.parse(day(new Date().toISOString())) - Date.parse(day(moment))) / 86_400_000)
  const date = days === 0 ? 'today' : days === 1 ? 'yesterday' : day(moment)
  return `${date} ${clock(moment)}`
}
