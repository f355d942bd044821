/** Values over frames: one number for all frames, or keys with a smooth line through them. */

export interface Key {
  /** shot frame number, whole */
  readonly frame: number
  readonly value: number
}

/** A plain number holds for every frame; keys are in order of their frames, one a frame. */
export type Curve = number | { readonly keys: readonly Key[] }

/**
 * The curve's value at a frame.
 *
 * Before the first key and after the last it stays level; between keys a monotone cubic (Fritsch and Carlson 1980), which
 * never overshoots a key.
 */
export function valueAt(curve: Curve, frame: number): number {
  if (typeof curve === 'number') return curve
  const { keys } = curve
  const last = keys.length - 1
  if (last < 0) throw new RangeError('A curve needs a number or at least one key.')
  if (frame <= keys[0].frame) return keys[0].value
  if (frame >= keys[last].frame) return keys[last].value
  let i = 0
  while (keys[i + 1].frame <= frame) i++
  const from = keys[i]
  const to = keys[i + 1]
  const span = to.frame - from.frame
  const t = (frame - from.frame) / span
  const m0 = tangentAt(keys, i) * span
  const m1 = tangentAt(keys, i + 1) * span
  const t2 = t * t
  const t3 = t2 * t
  return (2 * t3 - 3 * t2 + 1) * from.value + (t3 - 2 * t2 + t) * m0 + (-2 * t3 + 3 * t2) * to.value + (t3 - t2) * m1
}

/** Level at the ends and at turning points, else the harmonic mean of the slopes on both sides. */
function tangentAt(keys: readonly Key[], i: number): number {
  if (i === 0 || i === keys.length - 1) return 0
  const before = (keys[i].value - keys[i - 1].value) / (keys[i].frame - keys[i - 1].frame)
  const after = (keys[i + 1].value - keys[i].value) / (keys[i + 1].frame - keys[i].frame)
  return before * after <= 0 ? 0 : (2 * before * after) / (before + after)
}

/** @returns the curve with this value at this frame: a key if it has keys, else the one number */
export function withValue(curve: Curve, frame: number, value: number): Curve {
  return typeof curve === 'number' ? value : withKey(curve, frame, value)
}

/** @returns the curve with a key at the frame; a plain number becomes a curve of one key */
export function withKey(curve: Curve, frame: number, value: number): Curve {
  const keys = typeof curve === 'number' ? [] : curve.keys.filter((key) => key.frame !== frame)
  return { keys: [...keys, { frame, value }].sort((a, b) => a.frame - b.frame) }
}

/** @returns the curve without its key at the frame; when it was the last, the plain number it held */
export function withoutKey(curve: Curve, frame: number): Curve {
  if (typeof curve === 'number') return curve
  const keys = curve.keys.filter((key) => key.frame !== frame)
  return keys.length === 0 ? curve.keys[0].value : { keys }
}

/** @returns the frames that hold a key */
export function keyedFrames(curve: Curve): number[] {
  return typeof curve === 'number' ? [] : curve.keys.map((key) => key.frame)
}
