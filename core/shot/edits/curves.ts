/** Curves written into a draft so that edits of different keyframes do not meet. */

import { settingsOf, type Curve, type KeyedCurve, type StoredKeyframe } from '../../motion/curve'
import { ImpossibleEditError } from '../impossible-edit'
import { mostKeyframes } from '../limits'

/** Writes only the keyframes that differ, so that two people may set different ones. */
export function writeCurve(curves: Curve[], channel: number, next: Curve): void {
  const curve = curves[channel]
  if (typeof curve === 'number' || typeof next === 'number') {
    if (curve !== next) curves[channel] = next
  } else {
    const writable = curve as { keyframes: Record<string, StoredKeyframe>; beyond?: KeyedCurve['beyond'] }
    for (const [when, value] of Object.entries(next.keyframes))
      if (!sameKeyframe(writable.keyframes[when], value)) writable.keyframes[when] = value
    for (const when of Object.keys(writable.keyframes))
      if (!Object.hasOwn(next.keyframes, when)) delete writable.keyframes[when]
    if (next.beyond === undefined) delete writable.beyond
    else writable.beyond = next.beyond
  }
  if (typeof next !== 'number' && Object.keys(next.keyframes).length > mostKeyframes)
    throw new ImpossibleEditError(`A curve has at most ${mostKeyframes} keyframes.`)
}

export function sameKeyframe(a: StoredKeyframe | undefined, b: StoredKeyframe | undefined): boolean {
  if (a === undefined || b === undefined) return a === b
  const [one, other] = [settingsOf(a), settingsOf(b)]
  return one.value === other.value && one.to === other.to && one.before === other.before && one.after === other.after
}
