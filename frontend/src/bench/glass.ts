import type { LabGlass } from '@/api/client'

/** What is usual where a lab lists none, in mL. */
const usual = {
  burette: [10, 25, 50, 100],
  'graduated pipette': [1, 2, 5, 10, 25],
  syringe: [1, 2, 5, 10, 20, 50],
  'volumetric flask': [50, 100, 250, 500, 1000],
}

/** The sizes of one kind of glass that a lab owns, as choices. */
export function sizeChoices(glass: LabGlass[], kind: string): [string, string][] {
  const owned = [...new Set(glass.filter((g) => g.item.kind === kind).map((g) => g.item.volume))]
  const sizes = owned.length ? owned : (usual[kind as keyof typeof usual] ?? usual.burette)
  return sizes.sort((a, b) => a - b).map((v) => [String(v), `${v} mL`])
}

/** The same with pieces that carry a mark told apart: each errs in its own way, whenever it is used. */
export function pieceChoices(glass: LabGlass[], kind: string): [string, string][] {
  return sizeChoices(glass, kind).flatMap(([size, words]) => {
    const pieces = glass.filter((g) => g.item.kind === kind && String(g.item.volume) === size)
    const marked = pieces.flatMap(({ item: { mark } }): [string, string][] =>
      mark ? [[`${size} ${mark}`, `${words}, ${mark}`]] : [],
    )
    return pieces.length > 0 && marked.length === pieces.length ? marked : [[size, words], ...marked]
  })
}
