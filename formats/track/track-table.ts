/** Tracks as a table of comma-separated values (RFC 4180), a line for each frame of each: what spreadsheets and other programs read. */

import Papa from 'papaparse'

export interface TableTrack {
  readonly name: string
  /** pixels of the plate; a pixel's middle lies at its half, y goes down */
  readonly points: readonly TablePoint[]
}

export interface TablePoint {
  readonly frame: number
  readonly x: number
  readonly y: number
  /** set by hand, else found with standard errors in pixels and a likeness of -1 to 1 */
  readonly found?: { readonly across: number; readonly down: number; readonly likeness: number }
}

/** The text is no table of tracks. */
export class UnusableTrackTableError extends Error {
  override readonly name = 'UnusableTrackTableError'
}

const columns = ['track', 'frame', 'x', 'y', 'across', 'down', 'likeness'] as const
const needed = ['frame', 'x', 'y'] as const

export function trackTable(tracks: readonly TableTrack[]): string {
  const rows = tracks.flatMap(({ name, points }) =>
    points.map(({ frame, x, y, found }) => ({ track: name, frame, x, y, ...found })),
  )
  return `${Papa.unparse(rows, { columns: [...columns], newline: '\n' })}\n`
}

/**
 * @param file what to call it in messages
 * @returns the tracks in the order in which they come; without a column `track` one, called as the file is
 * @throws UnusableTrackTableError with file, line and what to do
 */
export function readTrackTable(text: string, file: string): TableTrack[] {
  const { data: table, meta } = Papa.parse<Readonly<Record<string, string | undefined>>>(text, {
    ...{ header: true, skipEmptyLines: true, delimiter: ',' },
  })
  const fault = (what: string) => new UnusableTrackTableError(`${file} ${what}`)
  const missing = needed.filter((name) => !meta.fields?.includes(name))
  if (missing.length > 0)
    throw fault(
      `has no column ${missing.join(', ')}. Its first line must name the columns: frame, x, y, and track where there are several.`,
    )
  if (table.length === 0) throw fault('has no lines below its columns, so there is no track in it.')
  const tracks = new Map<string, Map<number, TablePoint>>()
  table.forEach((row, i) => {
    const line = i + 2
    const number = (column: string): number => {
      const value = Number(row[column]?.trim() || NaN)
      if (!Number.isFinite(value))
        throw fault(`has no number in the column ${column} of line ${line}: "${row[column] ?? ''}".`)
      return value
    }
    const [frame, x, y] = needed.map(number)
    if (!Number.isInteger(frame)) throw fault(`has the frame ${frame} in line ${line}. Frames are whole numbers.`)
    const name = row.track?.trim() || file.replace(/\.[^.]*$/, '')
    const points = tracks.get(name) ?? new Map<number, TablePoint>()
    if (points.has(frame))
      throw fault(`has frame ${frame} of ${name} twice, the second time in line ${line}. Leave one of them out.`)
    const isFound = ['across', 'down', 'likeness'].every((column) => row[column]?.trim())
    const found = isFound && { across: number('across'), down: number('down'), likeness: number('likeness') }
    points.set(frame, found ? { frame, x, y, found } : { frame, x, y })
    tracks.set(name, points)
  })
  return [...tracks].map(([name, points]) => ({ name, points: [...points.values()] }))
}
