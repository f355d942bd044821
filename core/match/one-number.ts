/** One setting of a single number, found from what witnesses read with it at several values. */

import { ninetyPercent } from './students-t'
import type { Sure } from './propose'
import { leastCoverage, type Rgb, type SideReading } from './side-reading'
import { darkLight, unlikenessOf, usualTau } from './unlikeness'

export const numberNames = ['exposure', 'white balance', 'saturation', 'tint'] as const
export type NumberName = (typeof numberNames)[number]

interface OfNumber {
  /** values that readings are made at, rising in `along` */
  readonly tried: readonly number[]
  /** a measure of it in which readings go straight from one that was tried to the next, and back */
  readonly along: (value: number) => number
  readonly back: (along: number) => number
  /** to what it may be */
  readonly held: (value: number) => number
  /** whether they go on straight beyond what was tried */
  readonly goesOn: boolean
  /** whether materials are lighter or darker in all channels together, or in each by itself */
  readonly together: boolean
  /**
   * What ought to be alike on both sides.
   *
   * @param luma weights of the working space
   */
  readonly said: (light: readonly number[], luma: Rgb) => readonly number[]
  /** that much of its light is more than its errors, or it says nothing */
  readonly enough: (side: SideReading, luma: Rgb) => boolean
}

const channels = [0, 1, 2] as const
/** Colours of what is darker than so many errors say nothing. */
const leastErrors = 3

const lumaOf = (light: readonly number[], weights: Rgb) =>
  weights[0] * light[0] + weights[1] * light[1] + weights[2] * light[2]

const mired = (kelvin: number) => 1e6 / kelvin

const numbers: Readonly<Record<NumberName, OfNumber>> = {
  exposure: {
    tried: [-1, 1],
    along: (stops) => 2 ** stops,
    back: (factor) => Math.log2(factor),
    held: (stops) => stops,
    ...{ goesOn: true, together: true },
    said: (light) => light,
    enough: () => true,
  },
  'white balance': {
    tried: [20_000, 12_000, 9000, 7500, 6500, 5500, 4800, 4200, 3600, 3000, 2500, 2000],
    along: mired,
    back: mired,
    held: (kelvin) => kelvin,
    ...{ goesOn: false, together: false },
    said: ([r, g, b]) => [Math.log(r / g), Math.log(b / g)],
    enough: ({ light, error }) => channels.every((c) => light[c] > leastErrors * error[c]),
  },
  saturation: {
    tried: [0, 1],
    along: (amount) => amount,
    back: (amount) => amount,
    held: (amount) => Math.min(3, Math.max(0, amount)),
    ...{ goesOn: true, together: false },
    // As shares of the luma, so that what is darker is not paler.
    said: (light, luma) => light.map((one) => one / lumaOf(light, luma)),
    enough: ({ light, error }, luma) => lumaOf(light, luma) > leastErrors * Math.max(...error),
  },
  tint: {
    tried: [0, 1],
    along: (amount) => amount,
    back: (amount) => amount,
    held: (amount) => Math.min(1, Math.max(0, amount)),
    ...{ goesOn: true, together: false },
    said: (light, luma) => light.map((one) => one / lumaOf(light, luma)),
    enough: ({ light, error }, luma) => lumaOf(light, luma) > leastErrors * Math.max(...error),
  },
}

/** Values that a setting of this number is to be read at. */
export const triedOf = (name: NumberName): readonly number[] => numbers[name].tried

/** A witness's reference, and its adjusted side with the number at each value that was tried. */
export interface PairTried {
  readonly name: string
  readonly reference: SideReading
  readonly adjusted: readonly SideReading[]
  /** as `PairOfReadings` has it */
  readonly unlike?: number
}

export interface NumberProposed extends Sure {
  /** names of the witnesses that it rests on */
  readonly rests: readonly string[]
  /** the witness that fits least, where it is far from what the others say */
  readonly against: string | null
}

/** Of so many standard deviations a pair is of other material than the rest. */
const farOff = 3.5

/**
 * Each pair tells the number by itself, by least squares over what its sides say; pairs are then taken together, each with its
 * noise and with how unlike materials are.
 *
 * @param luma weights of the working space
 * @returns null where no pair can tell it
 */
export function oneNumber(name: NumberName, pairs: readonly PairTried[], luma: Rgb): NumberProposed | null {
  const of = numbers[name]
  const first = together(toldByAll(of, pairs, luma, ({ reference }) => reference.light))
  if (!first) return null
  // What is read too light by chance must not count for more, or less, because of that: light is taken as the number lets expect it.
  const expected = ({ adjusted }: PairTried) => lightAt(of, adjusted, first.mean)
  const told = toldByAll(of, pairs, luma, expected)
  const { mean, sum, left, tau, freedom } = together(told) ?? first
  const half = ninetyPercent(freedom) / Math.sqrt(sum)
  const value = of.held(of.back(mean))
  const bar = Math.abs(of.back(mean + half) - of.back(mean - half)) / 2
  if (!Number.isFinite(value)) return null
  const far = left.map((one) => Math.abs(one) * (tau / usualTau))
  const worst = far.indexOf(Math.max(...far))
  return {
    ...{ value, bar: Number.isFinite(bar) ? bar : Infinity, rests: told.map((one) => one.name) },
    against: told.length > 2 && far[worst] > farOff ? told[worst].name : null,
  }
}

/** Of three channels. */
type Light = readonly number[]

function toldByAll(of: OfNumber, pairs: readonly PairTried[], luma: Rgb, expected: (pair: PairTried) => Light) {
  return pairs.flatMap((pair) => {
    const one = toldBy(of, pair, luma, expected(pair))
    return one ? [{ name: pair.name, ...one }] : []
  })
}

function together(told: readonly Told[]) {
  if (told.length === 0) return null
  const at = (tau: number) => {
    const weights = told.map(({ variance, unlike }) => 1 / (variance + (tau * unlike) ** 2))
    const sum = weights.reduce((total, weight) => total + weight, 0)
    const mean = told.reduce((total, { value }, i) => total + weights[i] * value, 0) / sum
    return { mean, sum, left: told.map(({ value }, i) => (value - mean) * Math.sqrt(weights[i])) }
  }
  const { tau, freedom } = unlikenessOf(told.length, 1, (share) => at(share).left)
  return { ...at(tau), tau, freedom }
}

/** The adjusted side with the number at a place between those that were tried, or beyond them. */
function lightAt({ tried, along }: OfNumber, adjusted: readonly SideReading[], place: number): Light {
  const places = tried.map(along)
  const after = places.findIndex((one) => one >= place)
  const i = Math.min(places.length - 2, Math.max(0, (after < 0 ? places.length : after) - 1))
  const share = (place - places[i]) / (places[i + 1] - places[i])
  const [from, to] = [adjusted[i].light, adjusted[i + 1].light]
  return channels.map((c) => from[c] + share * (to[c] - from[c]))
}

interface Told {
  /** in the measure of the number */
  readonly value: number
  /** by the noise of both sides */
  readonly variance: number
  /** standard deviation, were the materials unlike by all of their light */
  readonly unlike: number
}

/** @returns null where a side does not cover or is too dark, or nothing of it changes with the number */
function toldBy(of: OfNumber, { reference, adjusted, unlike = 1 }: PairTried, luma: Rgb, expected: Light): Told | null {
  if ([reference, ...adjusted].some((side) => side.coverage < leastCoverage || !of.enough(side, luma))) return null
  const wanted = of.said(reference.light, luma)
  const seen = adjusted.map(({ light }) => of.said(light, luma))
  const places = of.tried.map(of.along)
  const most = expected.map((light) => unlike * (Math.max(0, light) + darkLight))
  const own = slopesOf(of, reference.light, luma)
  let best: { readonly cost: number; readonly told: Told } | null = null
  for (let i = 0; i + 1 < places.length; i++) {
    const span = places[i + 1] - places[i]
    const slopes = wanted.map((_, k) => (seen[i + 1][k] - seen[i][k]) / span)
    const others = slopesOf(of, adjusted[i].light, luma)
    const weights = wanted.map((_, k) => {
      const by = (row: readonly number[], errors: readonly number[]) =>
        row.reduce((sum, slope, c) => sum + (slope * errors[c]) ** 2, 0)
      const apart = by(
        own[k],
        most.map((one) => usualTau * one),
      )
      return 1 / Math.max(leastVariance, by(own[k], reference.error) + by(others[k], adjusted[i].error) + apart)
    })
    const squares = slopes.reduce((sum, slope, k) => sum + weights[k] * slope * slope, 0)
    if (!(squares > 1e-9)) continue
    const step = slopes.reduce((sum, slope, k) => sum + weights[k] * slope * (wanted[k] - seen[i][k]), 0) / squares
    const within = of.goesOn ? step : Math.min(span, Math.max(0, step))
    const cost = slopes.reduce((sum, slope, k) => sum + weights[k] * (seen[i][k] + slope * within - wanted[k]) ** 2, 0)
    if (best && best.cost <= cost) continue
    // How far light of one channel, on either side, moves the number.
    const moves = (rows: readonly (readonly number[])[]) =>
      channels.map((c) => rows.reduce((sum, row, k) => sum + (weights[k] * slopes[k] * row[c]) / squares, 0))
    const [byReference, byAdjusted] = [moves(own), moves(others)]
    const each = channels.map((c) => byReference[c] * most[c])
    best = {
      cost,
      told: {
        value: places[i] + within,
        variance: channels.reduce<number>(
          (sum, c) => sum + (byReference[c] * reference.error[c]) ** 2 + (byAdjusted[c] * adjusted[i].error[c]) ** 2,
          0,
        ),
        unlike: of.together ? Math.abs(each[0] + each[1] + each[2]) : Math.hypot(...each),
      },
    }
  }
  return best && Number.isFinite(best.told.value) ? best.told : null
}

const leastVariance = 1e-16

/** By how much each of what is said changes with the light of each channel. */
function slopesOf({ said }: OfNumber, light: readonly number[], luma: Rgb): readonly (readonly number[])[] {
  const sides = channels.map((c) => {
    const step = 1e-5 * (Math.abs(light[c]) + 1e-6)
    const moved = (by: number) =>
      said(
        light.map((one, k) => (k === c ? one + by : one)),
        luma,
      )
    const [above, below] = [moved(step), moved(-step)]
    return above.map((one, k) => (one - below[k]) / (2 * step))
  })
  return sides[0].map((_, k) => sides.map((one) => one[k]))
}
