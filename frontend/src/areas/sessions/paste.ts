/** A line of pasted results, or a row of a file. */
export interface PastedLine {
  line: number
  group: number
  stated: string
  wrong: string
}

/** Which columns of a table are read, by their place, and the unit of the results where a cell has none. */
export interface Columns {
  group: number
  result: number
  unit: string
  /** Whether the first row names the columns. */
  headed: boolean
}

/** Letters of a column, as spreadsheets have them. */
export const letters = (column: number): string =>
  (column >= 26 ? letters(Math.floor(column / 26) - 1) : '') + String.fromCharCode(65 + (column % 26))

const numbered = (cell: string | undefined) => /\d/.test(cell ?? '')

/** Which columns of a table are very likely the groups and their results, by their names and by what stands in them. */
export function columnsOf(rows: readonly string[][]): Columns {
  const first = rows[0] ?? []
  const headed = rows.length > 1 && first.some((cell) => cell) && !first.some((cell) => /^[-+]?\d/.test(cell))
  const body = rows.slice(headed ? 1 : 0)
  const width = Math.max(0, ...rows.map((row) => row.length))
  const all = Array.from({ length: width }, (_, i) => i)
  const named = (words: RegExp) => (headed ? all.find((i) => words.test(first[i] ?? '')) : undefined)
  const filled = all.filter((i) => body.some((row) => numbered(row[i])))
  const group = named(/group|pair|team|bench|place/i) ?? filled[0] ?? 0
  const result =
    named(/result|conc|found|mol|g\/|%/i) ??
    filled.find((i) => i !== group) ??
    Math.min(group + 1, Math.max(0, width - 1))
  const unit = headed ? (/[([]([^)\]]+)[)\]]|,\s*(\S.*)$/.exec(first[result] ?? '') ?? []) : []
  return { group, result, unit: (unit[1] ?? unit[2] ?? '').trim(), headed }
}

/** Reads a result for each group out of the columns of a table. What cannot be read is said of its cell. */
export function readColumns(rows: readonly string[][], columns: Columns): PastedLine[] {
  const list: PastedLine[] = []
  const known = new Set<number>()
  for (const [i, row] of rows.entries()) {
    const [named, stated] = [row[columns.group]?.trim() ?? '', row[columns.result]?.trim() ?? '']
    if ((columns.headed && i === 0) || (named === '' && stated === '')) continue
    const at = { line: i + 1, group: 0, stated: '' }
    const number = /^\D*(\d{1,3})\D*$/.exec(named)
    const cell = (column: number) => `cell ${letters(column)}${i + 1}`
    if (!number) list.push({ ...at, wrong: `${cell(columns.group)}: “${named}” has no number of a group` })
    else if (stated === '')
      list.push({ ...at, wrong: `${cell(columns.result)} is empty: leave the row out, or write a result` })
    else if (known.has(Number(number[1])))
      list.push({ ...at, wrong: `${cell(columns.group)}: group ${number[1]} has a result already in a row above` })
    else if (list.length >= mostResults) list.push({ ...at, wrong: `a class has at most ${mostResults} groups` })
    else {
      // A bare number takes the unit of its column.
      const bare = /^[-+−]?[\d.,]+(?:e[-+]?\d+)?$/i.test(stated)
      list.push({
        ...at,
        group: Number(number[1]),
        stated: bare && columns.unit ? `${stated} ${columns.unit}` : stated,
        wrong: '',
      })
      known.add(Number(number[1]))
    }
    if (list.length > mostResults + 5) break // the rest is no class
  }
  return list
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
