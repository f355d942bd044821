/** Values over time: one number for all frames, or keyframes with a smooth line through them. */

export interface Keyframe {
  /** shot frame number, whole */
  readonly frame: number
  readonly value: number
}

/** A plain number holds for every frame. Keyframes are by frame number, so that two people can set different ones. */
export type Curve = number | { readonly keyframes: Readonly<Record<string, number>> }

/** Curves are never changed in place, so their keyframes are sorted once. */
const sorted = new WeakMap<object, readonly Keyframe[]>()

/** @returns the curve's keyframes in order of their frames; none of a plain number */
export function keyframesOf(curve: Curve): readonly Keyframe[] {
  if (typeof curve === 'number') return []
  let found = sorted.get(curve)
  if (!found) {
    found = Object.entries(curve.keyframes)
      .map(([frame, value]) => ({ frame: Number(frame), value }))
      .sort((a, b) => a.frame - b.frame)
    sorted.set(curve, found)
  }
  return found
}

/**
 * The curve's value at a time.
 *
 * Before the first keyframe and after the last it stays level; between keyframes a monotone cubic (Fritsch and Carlson
 * 1980), which never overshoots a keyframe.
 *
 * @param time shot frame number; fractions lie between frames
 */
export function valueAt(curve: Curve, time: number): number {
  if (typeof curve === 'number') return curve
  const keyframes = keyframesOf(curve)
  const last = keyframes.length - 1
  if (last < 0) throw new RangeError('A curve needs a number or at least one keyframe.')
  if (time <= keyframes[0].frame) return keyframes[0].value
  if (time >= keyframes[last].frame) return keyframes[last].value
  let i = 0
  while (keyframes[i + 1].frame <= time) i++
  const from = keyframes[i]
  const to = keyframes[i + 1]
  const span = to.frame - from.frame
  const t = (time - from.frame) / span
  const m0 = tangentAt(keyframes, i) * span
  const m1 = tangentAt(keyframes, i + 1) * span
  const t2 = t * t
  const t3 = t2 * t
  return (2 * t3 - 3 * t2 + 1) * from.value + (t3 - 2 * t2 + t) * m0 + (-2 * t3 + 3 * t2) * to.value + (t3 - t2) * m1
}

/** Level at the ends and at turning points, else the harmonic mean of the slopes on both sides. */
function tangentAt(keyframes: readonly Keyframe[], i: number): number {
  if (i === 0 || i === keyframes.length - 1) return 0
  const before = (keyframes[i].value - keyframes[i - 1].value) / (keyframes[i].frame - keyframes[i - 1].frame)
  const after = (keyframes[i + 1].value - keyframes[i].value) / (keyframes[i + 1].frame - keyframes[i].frame)
  return before * after <= 0 ? 0 : (2 * before * after) / (before + after)
}

/** @returns the curve with this value at this frame: a keyframe if it has keyframes, else the one number */
export function withValue(curve: Curve, frame: number, value: number): Curve {
  return typeof curve === 'number' ? value : withKeyframe(curve, frame, value)
}

/** @returns the curve with a keyframe at the frame; a plain number becomes a curve of one keyframe */
export function withKeyframe(curve: Curve, frame: number, value: number): Curve {
  return { keyframes: { ...(typeof curve === 'number' ? {} : curve.keyframes), [frame]: value } }
}

/** @returns the curve without its keyframe at the frame; when it was the last, the plain number it held */
export function withoutKeyframe(curve: Curve, frame: number): Curve {
  if (typeof curve === 'number') return curve
  const { [String(frame)]: gone, ...keyframes } = curve.keyframes
  return Object.keys(keyframes).length === 0 ? (gone ?? 0) : { keyframes }
}

/** @returns whether the curve has one value, and just this one, on every frame */
export function isConstantly(curve: Curve, value: number): boolean {
  return typeof curve === 'number' ? curve === value : keyframesOf(curve).every((one) => one.value === value)
}
