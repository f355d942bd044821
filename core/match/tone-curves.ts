/** A curve of each channel through many pairs: what the adjusted side's code values would have to become. */

import { solved } from '../algebra/solved'
import type { PairRead } from './pair'
import type { Sure } from './propose'
import { leastCoverage } from './side-reading'
import { ninetyPercent } from './students-t'
import { darkLight, unlikenessOf, usualTau } from './unlikeness'

/** Code values of an encoding, from light and back. */
export interface Coding {
  encode(light: number): number
  decode(code: number): number
}

export interface TonePoint {
  readonly in: number
  /** its bar is infinite where no pair is: there the curve goes on as light goes, evenly */
  readonly out: Sure
}

export interface ToneCurves {
  /** of red, green and blue, rising from 0 to 1 */
  readonly channels: readonly [readonly TonePoint[], readonly TonePoint[], readonly TonePoint[]]
  /** names of the witnesses that it rests on */
  readonly rests: readonly string[]
  /** the witness that fits least, where it is far from what the others say */
  readonly against: string | null
}

/** Fewer pairs tell a veil and a gain, but no curve. */
export const fewestForCurves = 6
/** Two pairs tell a point; more points than these only follow what materials are unlike by. */
const pairsOfAPoint = 2
const mostPoints = 5
/** Of so many standard deviations a pair is of other material than the rest. */
const farOff = 3.5
/** Points that lie nearer to each other are one, in code values. */
const leastApart = 0.02
const leastRise = 1e-4

/**
 * Points lie among the pairs, as many on either side of each; between them the curve is straight, and least squares over the
 * pairs say how high each is. A pair counts by its noise and by how unlike materials are, as for a line.
 *
 * @returns null where there are too few pairs, or all are about as light
 */
export function toneCurves(pairs: readonly PairRead[], coding: Coding): ToneCurves | null {
  const sound = pairs.filter(
    ({ adjusted, reference }) => Math.min(adjusted.coverage, reference.coverage) >= leastCoverage,
  )
  if (sound.length < fewestForCurves) return null
  const fitted = [0, 1, 2].map((c) => channelThrough(sound, c, coding))
  const [red, green, blue] = fitted
  if (!red || !green || !blue) return null
  const far = sound.map((_, i) => Math.max(...[red, green, blue].map(({ left }) => Math.abs(left[i]))))
  const worst = far.indexOf(Math.max(...far))
  return {
    channels: [red.points, green.points, blue.points],
    rests: sound.map(({ name }) => name),
    against: far[worst] > farOff ? sound[worst].name : null,
  }
}

/** A pair in code values. */
interface Told {
  readonly x: number
  readonly y: number
  /** deviation of y by noise, and were the materials unlike by all of their light */
  readonly noise: number
  readonly unlike: number
}

function channelThrough(pairs: readonly PairRead[], c: number, { encode, decode }: Coding) {
  const slope = (light: number) => {
    const step = 1e-4 * (Math.abs(light) + darkLight)
    return Math.abs(encode(light + step) - encode(light - step)) / (2 * step)
  }
  const seen = pairs.map(({ adjusted, reference, unlike = 1 }): Told => {
    const [own, wanted] = [adjusted.light[c], reference.light[c]]
    return {
      ...{ x: encode(own), y: encode(wanted) },
      noise: Math.hypot(slope(wanted) * reference.error[c], slope(own) * adjusted.error[c]),
      unlike: slope(wanted) * unlike * (Math.max(0, wanted) + darkLight),
    }
  })
  const places = placesAmong(seen.map(({ x }) => x))
  if (places.length < 2) return null
  const rows = seen.map(({ x }) => sharesOf(places, x))
  const deviations = (tau: number) => seen.map(({ noise, unlike }) => Math.hypot(noise, tau * unlike, 1e-7))
  const leftAt = (tau: number) => {
    const sigmas = deviations(tau)
    const { values } = leastSquares(rows, seen, sigmas)
    return seen.map(({ y }, i) => (y - dot(rows[i], values)) / sigmas[i])
  }
  const { tau, freedom } = unlikenessOf(seen.length, places.length, leftAt)
  const { values, variances } = leastSquares(rows, seen, deviations(tau))
  if (values.length === 0) return null
  const rising = risen(values)
  const reach = ninetyPercent(freedom)
  const told = places.map((x, i): TonePoint => ({
    in: x,
    out: { value: rising[i], bar: reach * Math.sqrt(variances[i]) },
  }))
  return { points: withEndsOfLight(told, { encode, decode }), left: leftAt(usualTau) }
}

/** Middles of groups of the pairs, by how light they are. */
function placesAmong(xs: readonly number[]): number[] {
  const sorted = [...xs].sort((a, b) => a - b)
  const groups = Math.min(mostPoints, Math.floor(sorted.length / pairsOfAPoint))
  const middles = Array.from({ length: groups }, (_, g) => {
    const group = sorted.slice(Math.round((g * sorted.length) / groups), Math.round(((g + 1) * sorted.length) / groups))
    return group.reduce((sum, x) => sum + x, 0) / group.length
  })
  return middles.filter((x, i) => i === 0 || x - middles[i - 1] > leastApart)
}

/** What each point has of the curve at a place: two of them all of it; beyond the first and last as these two go on. */
function sharesOf(places: readonly number[], x: number): number[] {
  const after = places.findIndex((place) => place >= x)
  const i = Math.min(places.length - 2, Math.max(0, (after < 0 ? places.length : after) - 1))
  const share = (x - places[i]) / (places[i + 1] - places[i])
  return places.map((_, k) => (k === i ? 1 - share : k === i + 1 ? share : 0))
}

const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, value, i) => sum + value * b[i], 0)

/** @returns the points' heights, and the variance of each */
function leastSquares(rows: readonly (readonly number[])[], seen: readonly Told[], sigmas: readonly number[]) {
  const n = rows[0].length
  const normal = new Float64Array(n * n)
  const right = new Float64Array(n)
  rows.forEach((row, k) => {
    const weight = 1 / sigmas[k] ** 2
    for (let i = 0; i < n; i++) {
      right[i] += weight * row[i] * seen[k].y
      for (let j = 0; j < n; j++) normal[i * n + j] += weight * row[i] * row[j]
    }
  })
  const unit = (i: number) => Float64Array.from({ length: n }, (_, k) => (k === i ? 1 : 0))
  const values = solved(normal, right, 0)
  const variances = Array.from({ length: n }, (_, i) => solved(normal, unit(i), 0)?.[i] ?? Infinity)
  return { values: values ? [...values] : [], variances }
}

/** Points never fall: those that would are as high as their mean. */
function risen(values: readonly number[]): number[] {
  const runs: { sum: number; count: number }[] = []
  for (const value of values) {
    runs.push({ sum: value, count: 1 })
    while (runs.length > 1) {
      const [before, last] = runs.slice(-2)
      if (before.sum / before.count < last.sum / last.count) break
      runs.splice(-2, 2, { sum: before.sum + last.sum, count: before.count + last.count })
    }
  }
  const flat = runs.flatMap(({ sum, count }) => Array<number>(count).fill(sum / count))
  return flat.map((value, i) => value + leastRise * i)
}

/** In the dark a veil is added, in the light a gain goes on: both evenly, in light and not in code values. */
function withEndsOfLight(told: readonly TonePoint[], { encode, decode }: Coding): readonly TonePoint[] {
  const light = ({ in: x, out }: TonePoint) => [decode(x), decode(out.value)] as const
  const [[x0, y0], [x1, y1]] = [light(told[0]), light(told[1])]
  const [xn, yn] = light(told[told.length - 1])
  const veil = Math.max(0, y0 - (x0 * (y1 - y0)) / (x1 - x0))
  const end = (at: number, value: number): TonePoint => ({ in: at, out: { value, bar: Infinity } })
  const dark = told[0].in > leastApart ? [end(0, Math.min(encode(veil), told[0].out.value - leastRise))] : []
  const lit = told[told.length - 1].in < 1 - leastApart ? [end(1, encode((decode(1) * yn) / Math.max(xn, 1e-9)))] : []
  return [...dark, ...told, ...lit]
}
