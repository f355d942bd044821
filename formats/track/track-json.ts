/** Tracks as JSON: `{ "tracks": [{ "name", "points": [{ "frame", "x", "y" }] }] }`, with errors and likeness where they were found. */

import { array, number, object, string, ValidationError } from 'yup'
import { UnusableTrackTableError, type TableTrack } from './track-table'

const finite = () =>
  number()
    .strict()
    .required()
    .test('finite', '${path} must be a finite number', (value) => Number.isFinite(value))
const ofFound = { across: finite().min(0), down: finite().min(0), likeness: finite().min(-1).max(1) }
const ifGiven = () => number().strict().optional()
const pointSchema = object({
  ...{ frame: finite().integer(), x: finite(), y: finite() },
  ...{ across: ifGiven(), down: ifGiven(), likeness: ifGiven() },
})
const schema = object({
  tracks: array(
    object({ name: string().strict().trim().min(1).required(), points: array(pointSchema).min(1).required() }),
  )
    .min(1)
    .required(),
}).required()
/** What `enkrasis track --point` writes. */
const spot = () => object({ x: finite(), y: finite() }).required()
const ofCommandLine = object({
  points: array(object({ frame: finite().integer(), at: spot(), error: spot(), likeness: finite() }))
    .min(1)
    .required(),
}).required()

export const trackJson = (tracks: readonly TableTrack[]): string =>
  `${JSON.stringify(
    {
      tracks: tracks.map(({ name, points }) => ({
        name,
        points: points.map(({ frame, x, y, found }) => ({ frame, x, y, ...found })),
      })),
    },
    null,
    2,
  )}\n`

/**
 * Reads also what the command line writes of one point, as one track called as the file is.
 *
 * @param file what to call it in messages
 * @throws UnusableTrackTableError with file, place and what to do
 */
export function readTrackJson(text: string, file: string): TableTrack[] {
  const fault = (what: string, cause?: unknown) => new UnusableTrackTableError(`${file} ${what}`, { cause })
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    throw fault(`is no JSON: ${(error as Error).message}. Export it again.`, error)
  }
  try {
    const tracks = isOfCommandLine(value) ? [ofOnePoint(value, file)] : tracksOf(value)
    for (const { name, points } of tracks) {
      const frames = new Set<number>()
      for (const { frame } of points)
        if (frames.size === frames.add(frame).size)
          throw fault(`has frame ${frame} of ${name} twice. Leave one of them out.`)
    }
    return tracks
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    throw fault(
      `holds no tracks: ${error.message}. It should be { "tracks": [{ "name": …, "points": [{ "frame": …, "x": …, "y": … }] }] }.`,
      error,
    )
  }
}

const isOfCommandLine = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && 'points' in value && !('tracks' in value)

function tracksOf(value: unknown): TableTrack[] {
  return schema.validateSync(value, { strict: true }).tracks.map(({ name, points }, t) => ({
    name,
    points: points.map(({ frame, x, y, ...found }, i) => {
      if (Object.values(found).every((one) => one === undefined)) return { frame, x, y }
      const path = `tracks[${t}].points[${i}]`
      return { frame, x, y, found: object(ofFound).label(path).validateSync(found, { strict: true }) }
    }),
  }))
}

function ofOnePoint(value: unknown, file: string): TableTrack {
  const { points } = ofCommandLine.validateSync(value, { strict: true })
  const name = file.replace(/\.[^.]*$/, '')
  return {
    name,
    points: points.map(({ frame, at: { x, y }, error, likeness }, i) =>
      // Where it was set it has no errors.
      i === 0 && error.x === 0 && error.y === 0
        ? { frame, x, y }
        : { frame, x, y, found: { across: error.x, down: error.y, likeness } },
    ),
  }
}
