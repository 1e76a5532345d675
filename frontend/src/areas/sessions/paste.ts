/** A line of pasted results. */
export interface PastedLine {
  line: number
  group: number
  stated: string
  wrong: string
}

/** How many results one task takes. */
export const mostResults = 60

/** Reads a line for each group: its number, or its name with the number in it, then its result. Cells of a spreadsheet are
 * parted by tabs, those of a table of text by semicolons, or by a comma with a space; a heading without a number is passed
 * over. What cannot be read is said of its line. */
export function readResults(text: string): PastedLine[] {
  const list: PastedLine[] = []
  const known = new Set<number>()
  const lines = text.split(/\r?\n/)
  for (const [i, raw] of lines.entries()) {
    const line = raw.trim()
    if (line === '') continue
    const at = { line: i + 1, group: 0, stated: '' }
    const parts = /^(?:group\s*)?["']?(?:group\s*)?(\d{1,3})["']?(?:\s*[\t;]\s*|,\s+|\s*[:=]\s*|\s+)(\S.*)$/i.exec(line)
    if (!parts) {
      if (i === 0 && !/\d/.test(line)) continue
      list.push({ ...at, wrong: 'write the number of the group, then its result, like “3  0.1023”' })
      continue
    }
    const group = Number(parts[1])
    const stated = parts[2]!
      .split(/[\t;]/)[0]!
      .replace(/^["']|["']$/g, '')
      .trim()
    if (known.has(group)) list.push({ ...at, wrong: `group ${group} has a result already in a line above` })
    else if (list.length >= mostResults) list.push({ ...at, wrong: `a class has at most ${mostResults} groups` })
    else list.push({ ...at, group, stated, wrong: '' })
    known.add(group)
    if (list.length > mostResults + 5) break // the rest is no class
  }
  return list
}
