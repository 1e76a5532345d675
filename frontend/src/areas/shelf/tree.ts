import type { Kin } from '@/api/client'

/** One place in the picture of a family: what was weighed or poured, or a bottle. */
export interface Place {
  key: string
  column: number
  row: number
  from: string[]
  label: string
  kin?: Kin
}

/** Lays a family out from left to right: what it was made of first, then each bottle one
 * column behind the last of those that it comes from. Leaves take a row each, and a
 * bottle stands level with the middle of what came of it. */
export function layOut(family: Kin[]): Place[] {
  const places = new Map<string, Place>()
  for (const kin of family) {
    const from = [...kin.from]
    for (const label of kin.parents) {
      const key = `${kin.bottle.id} ${label}`
      places.set(key, { key, label, column: 0, row: 0, from: [] })
      from.push(key)
    }
    const column = 1 + Math.max(-1, ...from.map((key) => places.get(key)?.column ?? 0))
    places.set(kin.bottle.id, { key: kin.bottle.id, label: kin.bottle.title, column, row: 0, from, kin })
  }
  const all = [...places.values()]
  const children = (key: string) => all.filter((p) => p.from[0] === key)
  let rows = 0
  const put = (place: Place): number => {
    const below = children(place.key).map(put)
    return (place.row = below.length > 0 ? (below[0]! + below[below.length - 1]!) / 2 : rows++)
  }
  all.filter((p) => p.from.length === 0).forEach(put)
  return all
}
