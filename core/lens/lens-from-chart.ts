/**
 * A lens from a flat chart whose marks are known: each photograph sees the chart in a perspective of its own, all through one
 * lens. All are fitted together (Levenberg and Marquardt), by distances in pixels of the plate.
 */

import { solved } from '../algebra/solved'
import { fittedMotion } from '../motion/fitted-motion'
import type { Matrix3 } from '../graph/steps'
import { bent, type Lens } from '../motion/lens'
import { multiplied } from '../motion/mapping'
import type { Spot } from '../motion/placing'
import { unbent, type LensNumber, type LinesGiven } from './lens-from-lines'

/** The chart in one photograph. */
export interface ChartSeen {
  /** where its marks are on the chart, in any unit */
  readonly marks: readonly Spot[]
  /** where each is seen, in pixels of the plate */
  readonly seen: readonly Spot[]
}

export interface LensFromChart {
  readonly lens: Lens
  /** root mean square of the marks' distances from where the lens puts them, in pixels */
  readonly rms: number
  /** of each photograph: from places on the chart to the straight picture */
  readonly motions: readonly Matrix3[]
}

/** The photographs do not tell a lens: says why. */
export class ChartTellsNothingError extends Error {
  override readonly name = 'ChartTellsNothingError'
}

const fewestMarks = 9
const rounds = 100
const inView = 8

const { abs, log, max, sqrt } = Math

/**
 * As many numbers as the marks tell: one more must leave surely less (the criterion of Schwarz 1978). Numbers that tell nothing would lead
 * far astray where no mark is.
 *
 * @param families of numbers, each added to those before it; the first is taken as it is
 * @throws ChartTellsNothingError
 */
export function lensFromChart(
  views: readonly ChartSeen[],
  given: Omit<LinesGiven, 'choose'>,
  families: readonly (readonly LensNumber[])[] = familiesOfChart(given),
): LensFromChart {
  views.forEach(({ marks, seen }, i) => {
    if (marks.length !== seen.length || marks.length < fewestMarks)
      throw new ChartTellsNothingError(
        `Photograph ${i + 1} has ${seen.length} marks seen of ${marks.length}; ${fewestMarks} or more are needed, each with its place on the chart. Leave it out, or photograph the chart nearer.`,
      )
  })
  if (views.length === 0)
    throw new ChartTellsNothingError('There is no photograph of a chart. Give one or more, best from several sides.')
  const start = unbent(given)
  const near = views.map(({ marks }) => normalised(marks))
  const first = views.map(({ seen }, i) => {
    const motion = fittedMotion(near[i], seen, 'homography')
    if (!motion)
      throw new ChartTellsNothingError(
        `The marks of photograph ${i + 1} lie on one line or fold, so they tell no perspective. Leave it out.`,
      )
    return motion.slice(0, inView)
  })
  // Of each distance: which photograph it is in.
  const viewOf = views.flatMap(({ marks }, v) => new Array<number>(2 * marks.length).fill(v))
  const count = viewOf.length
  const fitted = (numbers: readonly LensNumber[], from: readonly number[], before: number): Fitted => {
    const of = (at: readonly number[]) => residuals(at, numbers, start, near, views)
    const zeros = Array.from({ length: numbers.length - before }, () => 0)
    const [values, left] = leastFrom(
      [...from.slice(0, before), ...zeros, ...from.slice(before)],
      of,
      numbers.length,
      viewOf,
    )
    const squares = sumOf(left)
    return { numbers, values, squares, judged: count * log(max(squares, 1e-30)) + numbers.length * log(count) }
  }
  let best = fitted(families[0], first.flat(), 0)
  for (const more of families.slice(1)) {
    const next = fitted([...best.numbers, ...more], best.values, best.numbers.length)
    if (next.judged < best.judged) best = next
  }
  const { numbers, values, squares } = best
  const motions = views.map((_, v) => [
    ...values.slice(numbers.length + v * inView, numbers.length + (v + 1) * inView),
    1,
  ])
  return {
    lens: lensAt(values, numbers, start),
    rms: sqrt(squares / (count / 2)),
    motions: motions.map((motion, v) => multiplied(motion as unknown as Matrix3, normalising(views[v].marks))),
  }
}

interface Fitted {
  readonly numbers: readonly LensNumber[]
  readonly values: readonly number[]
  readonly squares: number
  /** lower is better */
  readonly judged: number
}

const familiesOfChart = ({ tangential }: Omit<LinesGiven, 'choose'>): readonly (readonly LensNumber[])[] => [
  ['k1'],
  ['k2'],
  ['centreX', 'centreY'],
  ['k3'],
  ...(tangential ? ([['p1', 'p2']] as const) : []),
]

/** Levenberg and Marquardt, from some values on. */
function leastFrom(
  from: readonly number[],
  of: (at: readonly number[]) => Float64Array<ArrayBuffer>,
  shared: number,
  viewOf: readonly number[],
): [readonly number[], Float64Array<ArrayBuffer>] {
  let values = from
  let left = of(values)
  let damping = 1e-3
  for (let round = 0; round < rounds; round++) {
    const step = stepFrom(values, left, shared, viewOf, of, damping)
    const next = step && values.map((value, i) => value + step[i])
    const leftThere = next && of(next)
    if (next && leftThere && sumOf(leftThere) < sumOf(left)) {
      const done = sumOf(left) - sumOf(leftThere) < 1e-10 * sumOf(left)
      ;[values, left, damping] = [next, leftThere, max(1e-12, damping / 5)]
      if (done) break
    } else if (damping > 1e12) break
    else damping *= 5
  }
  return [values, left]
}

const sumOf = (left: Float64Array) => left.reduce((sum, one) => sum + one * one, 0)

function lensAt(values: readonly number[], numbers: readonly LensNumber[], start: Lens): Lens {
  const named = Object.fromEntries(numbers.map((name, i) => [name, values[i]]))
  const { centreX = 0, centreY = 0, ...bends } = named
  const centre = [start.centre[0] + centreX * start.unit, start.centre[1] + centreY * start.unit] as const
  return { ...start, ...bends, centre }
}

/** Across and down of every mark, one after the other. */
function residuals(
  values: readonly number[],
  numbers: readonly LensNumber[],
  start: Lens,
  near: readonly (readonly Spot[])[],
  views: readonly ChartSeen[],
): Float64Array<ArrayBuffer> {
  const lens = lensAt(values, numbers, start)
  const out = new Float64Array(2 * near.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  near.forEach((marks, v) => {
    const h = values.slice(numbers.length + v * inView, numbers.length + (v + 1) * inView)
    marks.forEach(([x, y], i) => {
      const w = h[6] * x + h[7] * y + 1
      const [px, py] = bent(lens, [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w])
      out[at++] = px - views[v].seen[i][0]
      out[at++] = py - views[v].seen[i][1]
    })
  })
  return out
}

/** Slopes by differences; those of one view touch its own marks only, so all views are stepped at once. */
function stepFrom(
  values: readonly number[],
  left: Float64Array,
  shared: number,
  viewOf: readonly number[],
  of: (at: readonly number[]) => Float64Array,
  damping: number,
): Float64Array | null {
  const count = values.length
  const steps = values.map((value) => 1e-6 * max(1e-3, abs(value)))
  const further = (moves: (i: number) => boolean) => of(values.map((value, i) => (moves(i) ? value + steps[i] : value)))
  const columns: Float64Array[] = []
  for (let i = 0; i < shared; i++) columns.push(further((j) => j === i))
  const inViews = Array.from({ length: inView }, (_, k) => further((j) => j >= shared && (j - shared) % inView === k))
  const rows = left.length
  const normal = new Float64Array(count * count)
  const right = new Float64Array(count)
  const slopes = new Float64Array(shared + inView)
  const places = new Int32Array(shared + inView)
  for (let r = 0; r < rows; r++) {
    for (let i = 0; i < shared; i++) {
      places[i] = i
      slopes[i] = (columns[i][r] - left[r]) / steps[i]
    }
    for (let k = 0; k < inView; k++) {
      const place = shared + viewOf[r] * inView + k
      places[shared + k] = place
      slopes[shared + k] = (inViews[k][r] - left[r]) / steps[place]
    }
    for (let a = 0; a < slopes.length; a++) {
      right[places[a]] -= slopes[a] * left[r]
      for (let b = 0; b < slopes.length; b++) normal[places[a] * count + places[b]] += slopes[a] * slopes[b]
    }
  }
  for (let i = 0; i < count; i++) normal[i * (count + 1)] *= 1 + damping
  return solved(normal, right, 1e-300)
}

/** About their middle and by their size, so that the perspective's numbers are of one order. */
function normalising(marks: readonly Spot[]): Matrix3 {
  const [mx, my] = [0, 1].map((c) => marks.reduce((sum, mark) => sum + mark[c], 0) / marks.length)
  const size = sqrt(marks.reduce((sum, [x, y]) => sum + (x - mx) ** 2 + (y - my) ** 2, 0) / marks.length)
  return [1 / size, 0, -mx / size, 0, 1 / size, -my / size, 0, 0, 1]
}

function normalised(marks: readonly Spot[]): readonly Spot[] {
  const [size, , x, , , y] = normalising(marks)
  return marks.map(([mx, my]) => [size * mx + x, size * my + y] as const)
}
