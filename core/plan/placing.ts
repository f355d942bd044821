/** Where an element lies in the frame, as one mapping; with a shutter where it moves. */

import { identity, resample, type Leading, type Mapping, type Matrix3, type Step } from '../graph/steps'
import type { Resampling } from '../kernels/kernels'
import { composed, inverseOf, led, unmoved as nothing } from '../motion/mapping'
import { atScale } from '../motion/placing'
import { bendAt, faultOfPin, foldsAt, isCutOff, placedMatrix, shutterTimes, type Element, type Pin } from '../shot'
import type { Planning } from './memo'
import type { Problem } from './problem'

/** From the frame's pixels to those of a picture. */
export interface Moved {
  readonly mapping: Mapping
  /** behind the same field, while the shutter is open; none where it stands still */
  readonly shutter: readonly Leading[]
  readonly filter: Resampling
}

export const unmoved: Moved = { mapping: nothing, shutter: [], filter: 'catmull-rom' }

export const sampled = (step: Step, { mapping, shutter, filter }: Moved): Step =>
  resample(step, mapping, filter, shutter)

/** @returns first through a mapping of the frame, a lens, then as it was; null where that takes two samplings */
export function behind(first: Mapping, { mapping, shutter, filter }: Moved): Moved | null {
  const together = composed(first, mapping)
  if (!together) return null
  // Behind a field that took the first in, nothing is left of it.
  const each = mapping.field ? shutter : shutter.map((one) => led(first, one))
  return each.every((one) => one !== null) ? { mapping: together, shutter: each, filter } : null
}

/**
 * @param own from its picture as it lies in the frame to its file's pixels; null: the same
 * @returns null where nothing of it is to be seen, since it is scaled to nothing, or its track has ended and it goes with it
 */
export function placedAt(
  planning: Planning,
  element: Element,
  time: number,
  own: Mapping | null,
  problems: Problem[],
): Moved | null {
  const { memo, scale } = planning
  const { id, name, placing } = element
  const filter = placing?.filter ?? 'catmull-rom'
  // Nothing moves it: there is nothing more to be read of the document.
  if (!placing && element.parent === null) return { mapping: own ?? nothing, shutter: [], filter }
  if (placing && foldsAt(placing, time))
    problems.push({
      at: { kind: 'element', id },
      sentence: `The corners of ${name} fold over each other at frame ${time}, so they are left as they are.`,
      remedy: 'Pull them so that they go round the picture in order.',
      missing: 'part',
    })
  const fault = placing?.pin && memo.read(planning, ({ shot }) => faultOfPin(shot, placing.pin as Pin))
  if (fault)
    problems.push({
      at: { kind: 'element', id },
      sentence: `${name}: ${fault.sentence}.`,
      remedy: fault.remedy,
      missing: 'part',
    })
  if (memo.read(planning, ({ shot }) => isCutOff(shot, id, time))) return null
  const at = (when: number) => leadingAt(planning, element, when, own)
  const here = at(time)
  if (!here) {
    if (placing && [...(placing.parameters.scale ?? []), ...(placing.parameters.stretch ?? [])].includes(0))
      problems.push({
        at: { kind: 'element', id },
        sentence: `${name} is scaled to nothing, so it is not seen.`,
        remedy: 'Give it a scale other than 0, or hide it.',
        missing: 'part',
      })
    return null
  }
  const times = memo.read(planning, ({ shot }) => shutterTimes(shot, id, time, scale))
  const shutter = times.map(at).filter((one) => one !== null)
  return { mapping: { field: own?.field ?? null, ...here }, shutter, filter }
}

/** @returns null where it has no size */
function leadingAt(planning: Planning, { id, placing }: Element, time: number, own: Mapping | null): Leading | null {
  const { memo, scale } = planning
  const placed = memo.read(planning, ({ shot }) => placedMatrix(shot, id, time))
  const back = inverseOf(atScale(placed as Matrix3, scale))
  if (!back) return null
  const lies: Leading = own ?? { matrix: identity }
  const bend = placing && bendAt(placing, time)
  if (!bend || (bend.bow === 0 && bend.twist === 0)) return led({ matrix: back }, lies)
  const { x, y, width, height } = placing.box
  const warp = {
    middle: [(x + width / 2) / scale, (y + height / 2) / scale],
    half: [width / 2 / scale, height / 2 / scale],
    bow: bend.bow / scale,
    twist: (bend.twist * Math.PI) / 180,
    then: lies.matrix,
  } as const
  return { matrix: back, warp }
}
