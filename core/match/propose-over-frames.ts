/** Veil and gain for the whole shot: the gain one, the veil one or keyed where the plate itself changes. */

import { courseOf, type Course, type ValueOnFrame } from './course'
import { pairsOverFrames } from './over-frames'
import type { PairRead } from './pair'
import { proposeVeilAndGain, type VeilAndGain } from './propose'
import { leastCoverage, type Rgb } from './side-reading'

/** A pair on the frames on which it was read, without veil and gain. */
export interface PairOverFrames {
  readonly frames: ReadonlyMap<number, PairRead>
}

export interface ProposedOverFrames {
  /** of all frames together */
  readonly together: VeilAndGain
  readonly veil: Course
  /** frames that it rests on */
  readonly frames: number
}

/** What a veil changes by less is not seen. */
const leastChange = 0.0005
const fewestFrames = 4

/** @returns null where too few frames were read, there is no pair to go by, or all contradict each other */
export function proposeOverFrames(
  pairs: readonly PairOverFrames[],
  present: { readonly veil: Rgb; readonly gain: Rgb },
): ProposedOverFrames | null {
  const sound = pairs
    .map(({ frames }) => [...frames].filter(([, one]) => covers(one)))
    .filter((frames) => frames.length >= fewestFrames)
  if (sound.length === 0) return null
  const together = proposeVeilAndGain(pairsOverFrames(sound.map((frames) => frames.map(([, one]) => one))), present)
  if (!together || together.rests.length === 0) return null
  // Those that contradict each other tell nothing of what changes either.
  const resting = sound.filter(([[, { name }]]) => together.rests.includes(name))
  const gain = together.gain.map(({ value }) => value)
  // A pair of unlike material is off by the same on all frames: what changes over them is what counts.
  const changes = new Map<number, { sum: number[]; weight: number[] }>()
  for (const frames of resting) {
    const left = frames.map(([, { reference, adjusted }]) =>
      [0, 1, 2].map((c) => reference.light[c] - gain[c] * adjusted.light[c]),
    )
    const mean = [0, 1, 2].map((c) => left.reduce((sum, one) => sum + one[c], 0) / left.length)
    frames.forEach(([frame, { reference, adjusted }], i) => {
      const at = changes.get(frame) ?? { sum: [0, 0, 0], weight: [0, 0, 0] }
      for (let c = 0; c < 3; c++) {
        const variance = reference.error[c] ** 2 + (gain[c] * adjusted.error[c]) ** 2
        const weight = 1 / Math.max(variance, leastVariance)
        at.sum[c] += weight * (left[i][c] - mean[c])
        at.weight[c] += weight
      }
      changes.set(frame, at)
    })
  }
  const values = [...changes]
    .sort(([a], [b]) => a - b)
    .map(([frame, { sum, weight }]): ValueOnFrame => ({
      frame,
      value: [0, 1, 2].map((c) => together.veil[c].value + sum[c] / weight[c]) as unknown as Rgb,
      error: weight.map((one) => Math.sqrt(1 / one)) as unknown as Rgb,
    }))
  return { together, veil: courseOf(values, leastChange), frames: values.length }
}

const leastVariance = 1e-12
const covers = ({ reference, adjusted }: PairRead) => Math.min(reference.coverage, adjusted.coverage) >= leastCoverage
