import type { Piece } from '@/api/client'

const elements =
  'A[cglrstu]|B[aeir]?|C[adelorsu]?|Dy|E[ru]|F[er]?|G[ade]|H[efgo]?|I[nr]?|Kr?|L[aiu]|M[gno]|N[abdeip]?|Os?|' +
  'P[bdrtu]?|R[behnu]|S[bceimnr]?|T[aehilm]|U|V|W|Xe|Yb?|Z[nr]'
const counted = `(?:${elements})\\d*`

/** A formula in a sentence, as plain text has it: elements and groups with their counts, and a
 * charge, like Fe^2+, C2O4^2- or Na2CO3. */
const formula = new RegExp(
  `(?<![\\w-])((?:${counted}|\\((?:${counted})+\\)\\d*)+)(?:\\^(\\d*[+-])|([+-]))?(?![\\w-])`,
  'g',
)

/** Sets the formulas of a sentence. A word without a count or a charge stays a word. */
export function setSpecies(text: string): Piece[] {
  const pieces: Piece[] = []
  let at = 0
  for (const match of text.matchAll(formula)) {
    const [whole, body = '', several, single] = match
    const charge = several ?? single
    if (!charge && !/\d/.test(body)) continue
    if (match.index > at) pieces.push({ text: text.slice(at, match.index) })
    for (const part of body.split(/(\d+)/).filter(Boolean))
      pieces.push(/\d/.test(part) ? { text: part, style: 'sub' } : { text: part })
    if (charge) pieces.push({ text: charge.replace('-', '−'), style: 'sup' })
    at = match.index + whole.length
  }
  if (at < text.length) pieces.push({ text: text.slice(at) })
  return pieces
}
