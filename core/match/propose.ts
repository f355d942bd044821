/** Veil and gain of an element, from all its witnesses: what they would have to be for both sides to agree. */

import { contradictionsOf, type Contradiction } from './contradictions'
import { fitLine, type FittedLine } from './fit-line'
import { pairOf, type PairRead } from './pair'
import { leastCoverage, type Rgb } from './side-reading'
import { ninetyPercent } from './students-t'
import { usualTau } from './unlikeness'

/** A value with half the length of its 90 % bar. */
export interface Sure {
  readonly value: number
  readonly bar: number
}

export interface VeilAndGain {
  readonly veil: readonly [Sure, Sure, Sure]
  readonly gain: readonly [Sure, Sure, Sure]
  /** names of the witnesses that it rests on */
  readonly rests: readonly string[]
  /** pairs that no veil and gain can satisfy together; what is proposed does not rest on them */
  readonly contradictions: readonly Contradiction[]
  /** the witness that fits least, where it is far from what the others say */
  readonly against: string | null
  /** what is not told, or would make it surer; null where nothing is wanting */
  readonly surer: string | null
}

/** The lightest pair is so many times as light as the darkest, or veil and gain cannot be told apart. */
const leastSpread = 4
/** Of this many standard deviations a pair is of other material than the rest. */
const farOff = 3.5

/**
 * @param pairs of one element; those that one side does not cover are left out
 * @param present gain and veil as they are set, which stay where nothing is told of them
 * @returns null where there is no pair to go by
 */
export function proposeVeilAndGain(
  pairs: readonly PairRead[],
  present: { readonly veil: Rgb; readonly gain: Rgb },
): VeilAndGain | null {
  const covered = pairs.filter(
    ({ adjusted, reference }) => Math.min(adjusted.coverage, reference.coverage) >= leastCoverage,
  )
  if (covered.length === 0) return null
  const contradictions = contradictionsOf(covered, present)
  const contradicting = new Set(contradictions.flatMap(({ names }) => names))
  const sound = covered.filter(({ name }) => !contradicting.has(name))
  if (sound.length === 0) {
    const asItIs = (values: Rgb) => values.map((value) => ({ value, bar: 0 })) as unknown as VeilAndGain['veil']
    return {
      ...{ veil: asItIs(present.veil), gain: asItIs(present.gain), rests: [], contradictions, against: null },
      surer: 'Nothing is proposed from readings that contradict each other: choose other material, or remove one.',
    }
  }
  const lumas = sound.map(({ adjusted: { light } }) => (light[0] + light[1] + light[2]) / 3)
  const [least, most] = [Math.min(...lumas), Math.max(...lumas)]
  const apart = sound.length > 1 && most > leastSpread * Math.max(least, 1e-4)
  // In the dark the veil is seen, in the light the gain.
  const dark = sound.every(({ purpose }) => purpose === 'black')
  const lines = [0, 1, 2].map((c): FittedLine => {
    const read = sound.map((pair) => pairOf(pair, c))
    if (apart) return fitLine(read)
    return fitLine(read, dark ? { gain: present.gain[c] } : { veil: present.veil[c] })
  })
  const sure = (name: 'veil' | 'gain') =>
    lines.map((line) => ({
      value: line[name],
      bar: ninetyPercent(line.freedom) * Math.sqrt(line[`${name}Variance`]),
    })) as unknown as VeilAndGain['veil']
  const far = sound.map((_, i) => Math.max(...lines.map(({ left }) => Math.abs(left[i]) * (tauOf(lines) / usualTau))))
  const worst = far.indexOf(Math.max(...far))
  return {
    ...{ veil: sure('veil'), gain: sure('gain'), rests: sound.map(({ name }) => name), contradictions },
    against: sound.length > 2 && far[worst] > farOff ? sound[worst].name : null,
    surer: apart
      ? sound.length < 3
        ? 'Two pairs cannot contradict each other: add a third.'
        : null
      : dark
        ? 'All pairs are for black, so the gain stays as it is: add a pair in the light.'
        : 'No pair is much darker than the others, so the veil stays as it is: add a pair for black.',
  }
}

const tauOf = (lines: readonly FittedLine[]) => Math.max(...lines.map(({ tau }) => tau))
