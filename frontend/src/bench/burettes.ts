import type { LabGlass } from '@/api/client'

/** The burettes of the lab by their volumes, as choices; without any, those that are usual. */
export function buretteChoices(glass: LabGlass[]): [string, string][] {
  const owned = [...new Set(glass.filter((g) => g.item.kind === 'burette').map((g) => g.item.volume))]
  return (owned.length ? owned : [10, 25, 50, 100]).sort((a, b) => a - b).map((v) => [String(v), `${v} mL`])
}
