import type { LabGlass } from '@/api/client'

/** What is usual where a lab lists none, in mL. */
const usual = { burette: [10, 25, 50, 100], 'graduated pipette': [1, 2, 5, 10, 25], syringe: [1, 2, 5, 10, 20, 50] }

/** The burettes of the lab by their volumes, or what stands in for one, as choices. */
export function graduatedChoices(glass: LabGlass[], kind: string): [string, string][] {
  const owned = [...new Set(glass.filter((g) => g.item.kind === kind).map((g) => g.item.volume))]
  const sizes = owned.length ? owned : (usual[kind as keyof typeof usual] ?? usual.burette)
  return sizes.sort((a, b) => a - b).map((v) => [String(v), `${v} mL`])
}
