/** Frames on which a keyed value leaves its way for a moment and comes back: a keyframe that was set wrong, or forgotten. */

import { medianOf } from '../match'
import { keyframesOf, valueAt, type Curve } from '../motion/curve'

export interface Pop {
  readonly frame: number
  /** from where its neighbours let one expect it */
  readonly off: number
}

/** A pop lasts at most so many frames; what lasts longer is meant. */
const longest = 2
/** What a value usually changes by from frame to frame is told by so many frames to either side. */
const around = 6
/** A pop is so many times that. */
const beyondUsual = 4

/**
 * @param least a change that cannot be overlooked, in the value's own unit
 * @param frames first and last frame that is looked at
 */
export function popsOf(curve: Curve, [first, last]: readonly [number, number], least: number): Pop[] {
  if (keyframesOf(curve).length < 2) return []
  const values = Array.from({ length: last - first + 1 }, (_, i) => valueAt(curve, first + i))
  const found: Pop[] = []
  for (let i = 1; i < values.length; i++)
    for (let length = 1; length <= longest && i + length < values.length; length++) {
      const [into, out] = [values[i] - values[i - 1], values[i + length] - values[i + length - 1]]
      const size = Math.min(Math.abs(into), Math.abs(out))
      if (into * out >= 0 || size <= Math.max(least, beyondUsual * usualChange(values, i, length))) continue
      for (let k = 0; k < length; k++) {
        const share = (k + 1) / (length + 1)
        const expected = values[i - 1] + share * (values[i + length] - values[i - 1])
        found.push({ frame: first + i + k, off: values[i + k] - expected })
      }
      i += length
      break
    }
  return found
}

/** The median change from frame to frame, into and out of the pop left out. */
function usualChange(values: readonly number[], at: number, length: number): number {
  const changes: number[] = []
  for (let i = Math.max(1, at - around); i <= Math.min(values.length - 1, at + length + around); i++)
    if (i < at || i > at + length) changes.push(Math.abs(values[i] - values[i - 1]))
  return changes.length === 0 ? 0 : medianOf(changes)
}
