/** Veil, gain and gamma of an element, from all its witnesses together. */

import { fewestForGamma, fitGamma, triedGammas, type FittedGamma } from './fit-gamma'
import type { PairRead } from './pair'
import type { Sure, VeilAndGain } from './propose'
import { leastCoverage, type SideReading } from './side-reading'
import { ninetyPercent } from './students-t'
import { usualTau } from './unlikeness'

export interface VeilGainAndGamma extends VeilAndGain {
  readonly gamma: readonly [Sure, Sure, Sure]
}

/** A witness's two sides, the adjusted one without veil and gain at each of the gammas that are tried. */
export interface PairReadAtGammas extends Omit<PairRead, 'adjusted'> {
  readonly adjusted: readonly SideReading[]
}

/** The lightest pair is so many times as light as the darkest, or the three cannot be told apart. */
const leastSpread = 8
/** Of this many standard deviations a pair is of other material than the rest. */
const farOff = 3.5

/** @returns a sentence where they cannot tell a gamma */
export function proposeWithGamma(pairs: readonly PairReadAtGammas[]): VeilGainAndGamma | string {
  const sound = pairs.filter(({ adjusted, reference }) =>
    [reference, ...adjusted].every(({ coverage }) => coverage >= leastCoverage),
  )
  if (sound.length < fewestForGamma)
    return `Gamma is told by ${fewestForGamma} pairs or more, from the dark to the light: add ${fewestForGamma - sound.length}.`
  const lumas = sound.map(({ adjusted }) => adjusted[triedGammas.indexOf(1)].light.reduce((sum, one) => sum + one, 0))
  if (Math.max(...lumas) < leastSpread * Math.max(Math.min(...lumas), 1e-4))
    return `Gamma is told by pairs from the dark to the light: the lightest of these is not ${leastSpread} times as light as the darkest.`
  const fitted = [0, 1, 2].map((c) => fitGamma(sound.map((pair) => ofChannel(pair, c))))
  const [red, green, blue] = fitted
  if (!red || !green || !blue)
    return `No gamma between ${triedGammas[0]} and ${triedGammas[triedGammas.length - 1]} brings these pairs onto one line.`
  const channels = [red, green, blue]
  const told = (of: (one: FittedGamma) => Sure) => channels.map(of) as unknown as VeilAndGain['veil']
  const reach = ({ freedom }: FittedGamma) => ninetyPercent(freedom)
  const far = sound.map((_, i) => Math.max(...channels.map(({ left, tau }) => Math.abs(left[i]) * (tau / usualTau))))
  const worst = far.indexOf(Math.max(...far))
  return {
    veil: told((one) => ({ value: one.veil, bar: reach(one) * Math.sqrt(one.veilVariance) })),
    gain: told((one) => ({ value: one.gain, bar: reach(one) * Math.sqrt(one.gainVariance) })),
    gamma: told((one) => ({ value: one.gamma, bar: one.gamma * reach(one) * Math.sqrt(one.logGammaVariance) })),
    ...{ rests: sound.map(({ name }) => name), contradictions: [] },
    against: far[worst] > farOff ? sound[worst].name : null,
    surer: sound.length === fewestForGamma ? 'Four pairs can hardly contradict each other: add a fifth.' : null,
  }
}

const ofChannel = ({ reference, adjusted, unlike }: PairReadAtGammas, c: number) => ({
  ...{ reference: reference.light[c], referenceVariance: reference.error[c] ** 2, unlike },
  adjusted: adjusted.map(({ light }) => light[c]),
  adjustedVariance: adjusted.map(({ error }) => error[c] ** 2),
})
