/** What the reference side of a witness reads, averaged over frames that agree: grain is new on every frame, the place is the same. */

import { medianOf } from '../algebra/median'
import type { WitnessPurpose } from './purposes'
import { rgbOf, type SideReading } from './side-reading'

/** Frames to either side that may tell more of the one between. */
const reach = 12
/** Intervals of so many errors must overlap, or the frames have not the same light. */
const wide = 1.5
/** Pictures that were computed have no noise at all. */
const leastError = 1e-9
/** A median of fewer differences says too little. */
const fewestDifferences = 4
/** Of |difference| of two values with an error of 1, in the same unit. */
const medianOfDifference = 0.6745

/** What is compared, with its errors. */
interface Told {
  readonly values: readonly number[]
  readonly errors: readonly number[]
}

/** How a purpose reads a side, and how what was averaged is put in its place. */
interface Part {
  readonly of: (side: SideReading) => Told | null | undefined
  readonly with: (side: SideReading, told: Told) => SideReading
  /** its errors are estimates of one noise, each from few pixels: they count together */
  readonly oneNoise: boolean
}

const light: Part = {
  of: ({ light: values, error: errors }) => ({ values, errors }),
  with: (side, { values, errors }) => ({ ...side, light: rgbOf((c) => values[c]), error: rgbOf((c) => errors[c]) }),
  oneNoise: true,
}

const edge: Part = {
  of: ({ edge: found }) => found && { values: [found.sigma], errors: [found.error] },
  with: (side, { values: [sigma], errors: [error] }) => ({ ...side, edge: { sigma, error } }),
  oneNoise: false,
}

const shadow: Part = {
  of: ({ shadow: found }) => found && { values: found.ratio, errors: found.error },
  with: (side, { values, errors }) => ({
    ...side,
    shadow: { ratio: rgbOf((c) => values[c]), error: rgbOf((c) => errors[c]) },
  }),
  oneNoise: false,
}

const grain: Part = {
  of: ({ grain: found }) => found && { values: found.sigma, errors: found.error },
  with: (side, { values, errors }) => ({
    ...side,
    grain: { sigma: rgbOf((c) => values[c]), error: rgbOf((c) => errors[c]) },
  }),
  oneNoise: false,
}

/** Places move, and flicker is what differs from frame to frame: nothing is averaged for them. */
const parts: Readonly<Record<WitnessPurpose, Part | null>> = {
  ...{ black: light, mid: light, white: light, colour: light },
  ...{ sharpness: edge, shadow, grain, registration: null, flicker: null },
}

/**
 * Of every frame the mean of the widest run of frames around it whose means, from run to run, have intervals that overlap
 * (intersection of confidence intervals: Goldenshluger and Nemirovski 1997): jumps and lamps that change stay, noise goes. Runs to one
 * side are tried as well, so that a frame beside a jump is told by those on its own side of it. The adjusted side is never averaged: what is
 * wrong with it on one frame is read on that frame.
 *
 * @param sides in the order of their frames; null where nothing was read
 * @returns the same sides, with less noise where frames agree, and errors that say so; null where there was none
 */
export function referenceOverFrames(
  purpose: WitnessPurpose,
  sides: readonly { readonly frame: number; readonly side: SideReading | null }[],
): (SideReading | null)[] {
  const part = parts[purpose]
  const there = sides.flatMap(({ frame, side }, at) => {
    const told = side && part?.of(side)
    return side && told ? [{ frame, at, side, ...told }] : []
  })
  const found = sides.map(({ side }) => side)
  if (!part || there.length < 2) return found
  const errors = trueErrors(there, part.oneNoise)
  const series: Series = { frames: there.map(({ frame }) => frame), values: there.map(({ values }) => values), errors }
  there.forEach(({ at, side, errors: own }, i) => {
    const { from, to, told } = widestRun(series, i)
    const run = there.slice(from, to + 1)
    // More light has more grain: that of the run counts, not that of all frames.
    const noise = (some: readonly Told[], c: number) =>
      Math.max(leastError, rootMeanSquare(some.map(({ errors }) => errors[c])))
    const errors = part.oneNoise
      ? told.errors.map((error, c) => (error * noise(run, c)) / noise(there, c))
      : told.errors
    // Where the light is another on every frame, each tells its own best.
    if (run.length === 1 || Math.max(...errors) >= Math.max(...own)) return
    const freedom = run.reduce((sum, one) => sum + (one.side.freedom ?? Infinity), 0)
    found[at] = {
      ...part.with(side, { values: told.values, errors }),
      ...(side.freedom === undefined ? {} : { freedom }),
      over: run.length,
    }
  })
  return found
}

interface Series {
  readonly frames: readonly number[]
  /** by frame, then by channel */
  readonly values: readonly (readonly number[])[]
  readonly errors: readonly (readonly number[])[]
}

/** As they are stated, and no less than how neighbours differ says. */
function trueErrors(told: readonly Told[], oneNoise: boolean): number[][] {
  const [{ values: first }] = told
  const factors = first.map((_, c) => {
    const stated = oneNoise ? rootMeanSquare(told.map(({ errors }) => errors[c])) : null
    const errorOf = ({ errors }: Told) => stated ?? errors[c]
    const differences = told.slice(1).map((one, i) => {
      const apart = Math.abs(one.values[c] - told[i].values[c])
      const noise = Math.hypot(errorOf(one), errorOf(told[i]))
      return noise > 0 ? apart / noise : 0
    })
    const more = differences.length < fewestDifferences ? 1 : medianOf(differences) / medianOfDifference
    return { stated, more: Math.max(1, more) }
  })
  return told.map(({ errors }) => factors.map(({ stated, more }, c) => more * (stated ?? errors[c])))
}

const rootMeanSquare = (values: readonly number[]) =>
  Math.sqrt(values.reduce((sum, one) => sum + one * one, 0) / values.length)

interface Run {
  readonly from: number
  readonly to: number
  readonly told: Told
}

const ways = [
  [1, 1],
  [1, 0],
  [0, 1],
] as const

/** The one with the least error. */
function widestRun(series: Series, at: number): Run {
  const runs = ways.map(([before, after]) => grown(series, at, before, after))
  const size = ({ told }: Run) => Math.max(...told.errors)
  return runs.reduce((a, b) => (size(b) < size(a) ? b : a))
}

function grown({ frames, values, errors }: Series, at: number, before: 0 | 1, after: 0 | 1): Run {
  const channels = values[at].map((_, c) => ({ c, weight: 0, sum: 0, least: -Infinity, most: Infinity }))
  const add = (i: number) => {
    for (const one of channels) {
      const weight = 1 / Math.max(errors[i][one.c], leastError) ** 2
      one.weight += weight
      one.sum += weight * values[i][one.c]
    }
  }
  const isNear = (i: number) => i >= 0 && i < frames.length && Math.abs(frames[i] - frames[at]) <= reach
  let run: Run = { from: at, to: at, told: { values: values[at], errors: errors[at] } }
  let [from, to] = [at, at]
  add(at)
  for (;;) {
    for (const one of channels) {
      const [mean, error] = [one.sum / one.weight, 1 / Math.sqrt(one.weight)]
      one.least = Math.max(one.least, mean - wide * error)
      one.most = Math.min(one.most, mean + wide * error)
    }
    if (channels.some(({ least, most }) => least > most)) return run
    const told = {
      values: channels.map(({ sum, weight }) => sum / weight),
      errors: channels.map(({ weight }) => 1 / Math.sqrt(weight)),
    }
    run = { from, to, told }
    const [left, right] = [before === 1 && isNear(from - 1), after === 1 && isNear(to + 1)]
    if (!left && !right) return run
    if (left) add(--from)
    if (right) add(++to)
  }
}
