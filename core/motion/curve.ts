/** Values over time: one number for all frames, or keyframes with a line through them. */

/**
 * How a curve goes on from a keyframe to the next: smooth, never beyond either (`monotone`); smooth through its neighbours,
 * with handles where they are set; straight; level until the next; gently from a stop, to a stop, or both; or popping up:
 * beyond the next value, and settling on it.
 */
export const ways = ['monotone', 'smooth', 'straight', 'level', 'gentle', 'gentle-start', 'gentle-end', 'pop'] as const
export type Way = (typeof ways)[number]

export interface KeyframeSettings {
  readonly value: number
  readonly to: Way
  /** handles of a smooth line: its slope before the keyframe and after it, value a frame; absent: by its neighbours */
  readonly before?: number
  readonly after?: number
}

/** A plain number goes on `monotone`. */
export type StoredKeyframe = number | KeyframeSettings

/** What a curve does before its first keyframe and after its last: again and again, to and fro, or on at its slope. */
export const beyonds = ['repeat', 'ping-pong', 'go-on'] as const
export type BeyondKeyframes = (typeof beyonds)[number]

export interface KeyedCurve {
  /** by frame number, so that two people can set different ones */
  readonly keyframes: Readonly<Record<string, StoredKeyframe>>
  /** absent: level */
  readonly beyond?: BeyondKeyframes
}

/** A plain number holds for every frame. */
export type Curve = number | KeyedCurve

export interface Keyframe extends KeyframeSettings {
  /** shot frame number, whole */
  readonly frame: number
}

/** Curves are never changed in place, so their keyframes are sorted once. */
const sorted = new WeakMap<object, readonly Keyframe[]>()

export const settingsOf = (stored: StoredKeyframe): KeyframeSettings =>
  typeof stored === 'number' ? { value: stored, to: 'monotone' } : stored

/** @returns the curve's keyframes in order of their frames; none of a plain number */
export function keyframesOf(curve: Curve): readonly Keyframe[] {
  if (typeof curve === 'number') return []
  let found = sorted.get(curve)
  if (!found) {
    found = Object.entries(curve.keyframes)
      .map(([frame, stored]) => ({ frame: Number(frame), ...settingsOf(stored) }))
      .sort((a, b) => a.frame - b.frame)
    sorted.set(curve, found)
  }
  return found
}

/**
 * The curve's value at a time.
 *
 * Monotone lines are cubics after Fritsch and Carlson (1980), which never overshoot a keyframe; smooth ones cubic Hermite
 * splines, by their handles or the slope between both neighbours (Catmull and Rom 1974).
 *
 * @param time shot frame number; fractions lie between frames
 */
export function valueAt(curve: Curve, time: number): number {
  if (typeof curve === 'number') return curve
  const keyframes = keyframesOf(curve)
  if (keyframes.length === 0) throw new RangeError('A curve needs a number or at least one keyframe.')
  const [first, last] = [keyframes[0], keyframes[keyframes.length - 1]]
  // A repeated curve begins again on its last keyframe.
  const ends = curve.beyond === 'repeat' && keyframes.length > 1 ? time < last.frame : time <= last.frame
  if (time >= first.frame && ends) return within(keyframes, time)
  const [end, at] = time < first.frame ? [first, 0] : [last, keyframes.length - 1]
  const span = last.frame - first.frame
  if (curve.beyond === 'go-on') return end.value + endSlope(keyframes, at) * (time - end.frame)
  if (curve.beyond === undefined || span === 0) return end.value
  return within(keyframes, first.frame + folded(time - first.frame, span, curve.beyond === 'ping-pong'))
}

function folded(time: number, span: number, toAndFro: boolean): number {
  const period = toAndFro ? 2 * span : span
  const rest = ((time % period) + period) % period
  return rest <= span ? rest : 2 * span - rest
}

function within(keyframes: readonly Keyframe[], time: number): number {
  const last = keyframes.length - 1
  if (time >= keyframes[last].frame) return keyframes[last].value
  let i = 0
  while (keyframes[i + 1].frame <= time) i++
  const [from, to] = [keyframes[i], keyframes[i + 1]]
  const span = to.frame - from.frame
  const t = (time - from.frame) / span
  const between = (share: number) => from.value + (to.value - from.value) * share
  switch (from.to) {
    case 'level':
      return from.value
    case 'straight':
      return between(t)
    case 'gentle':
      return between(t * t * (3 - 2 * t))
    case 'gentle-start':
      return between(t * t)
    case 'gentle-end':
      return between(t * (2 - t))
    case 'pop':
      return between(1 - (1 - t) * Math.exp(-5 * t) * Math.cos(3 * Math.PI * t))
    case 'monotone':
      return cubic(from.value, to.value, monotoneSlope(keyframes, i) * span, monotoneSlope(keyframes, i + 1) * span, t)
    case 'smooth': {
      const leaving = from.after ?? smoothSlope(keyframes, i)
      const arriving = to.before ?? smoothSlope(keyframes, i + 1)
      return cubic(from.value, to.value, leaving * span, arriving * span, t)
    }
  }
}

/** A cubic Hermite curve; `m0` and `m1` are its slopes over the whole span. */
function cubic(from: number, to: number, m0: number, m1: number, t: number): number {
  const [t2, t3] = [t * t, t * t * t]
  return (2 * t3 - 3 * t2 + 1) * from + (t3 - 2 * t2 + t) * m0 + (-2 * t3 + 3 * t2) * to + (t3 - t2) * m1
}

const slope = (a: Keyframe, b: Keyframe) => (b.value - a.value) / (b.frame - a.frame)

/** Level at the ends and at turning points, else the harmonic mean of the slopes on both sides. */
function monotoneSlope(keyframes: readonly Keyframe[], i: number): number {
  if (i === 0 || i === keyframes.length - 1) return 0
  const before = slope(keyframes[i - 1], keyframes[i])
  const after = slope(keyframes[i], keyframes[i + 1])
  return before * after <= 0 ? 0 : (2 * before * after) / (before + after)
}

/** Level at the ends, else the slope between both neighbours. */
export function smoothSlope(keyframes: readonly Keyframe[], i: number): number {
  if (i === 0 || i === keyframes.length - 1) return 0
  return slope(keyframes[i - 1], keyframes[i + 1])
}

/** How steep the curve is where it ends, on its inner side; of a single keyframe what its handle says. */
function endSlope(keyframes: readonly Keyframe[], i: number): number {
  const { before, after } = keyframes[i]
  const own = i === 0 ? (after ?? before) : (before ?? after)
  if (own !== undefined) return own
  if (keyframes.length < 2) return 0
  const step = 1 / 1024
  const { frame } = keyframes[i]
  return i === 0
    ? (within(keyframes, frame + step) - within(keyframes, frame)) / step
    : (within(keyframes, frame) - within(keyframes, frame - step)) / step
}

/**
 * Where the curve jumps: at the keyframe that ends a level piece, and where a repeated curve begins again elsewhere than it
 * ended. A shutter that is open there stays on the side of its own frame.
 *
 * @returns times above `from` and up to `to`
 */
export function jumpsOf(curve: Curve, from: number, to: number): readonly number[] {
  if (typeof curve === 'number') return []
  const keyframes = keyframesOf(curve)
  if (keyframes.length < 2) return []
  const [first, last] = [keyframes[0], keyframes[keyframes.length - 1]]
  const inside = keyframes.flatMap((one, i) =>
    i > 0 && keyframes[i - 1].to === 'level' && keyframes[i - 1].value !== one.value ? [one.frame] : [],
  )
  const span = last.frame - first.frame
  const joins = curve.beyond === 'repeat' && first.value !== last.value ? [first.frame] : []
  if (curve.beyond !== 'repeat' && curve.beyond !== 'ping-pong')
    return inside.filter((time) => time > from && time <= to)
  const found: number[] = []
  for (let round = Math.floor((from - last.frame) / span) - 1; first.frame + round * span <= to; round++)
    for (const time of [...joins, ...inside]) {
      const mirrored = curve.beyond === 'ping-pong' && round % 2 !== 0
      const at = mirrored ? last.frame - (time - first.frame) + round * span : time + round * span
      if (at > from && at <= to) found.push(at)
    }
  return found.sort((a, b) => a - b)
}

/** @returns the curve with this value at this frame: a keyframe if it has keyframes, else the one number */
export function withValue(curve: Curve, frame: number, value: number, to: Way = 'monotone'): Curve {
  return typeof curve === 'number' ? value : withKeyframe(curve, frame, value, to)
}

/**
 * @param to how a first keyframe goes on. One that is there keeps its way, and a new one goes on as the piece it lies in
 * @returns the curve with a keyframe at the frame; a plain number becomes a curve of one keyframe
 */
export function withKeyframe(curve: Curve, frame: number, value: number, to: Way = 'monotone'): Curve {
  if (typeof curve === 'number') return { keyframes: { [frame]: stored({ value, to }) } }
  const known = Object.hasOwn(curve.keyframes, frame) ? settingsOf(curve.keyframes[frame]) : null
  const way = keyframesOf(curve)
    .filter((one) => one.frame < frame)
    .at(-1)?.to
  const next = known ? { ...known, value } : { value, to: way ?? keyframesOf(curve)[0]?.to ?? to }
  return { ...curve, keyframes: { ...curve.keyframes, [frame]: stored(next) } }
}

/** As the document keeps it: a number where that says all. */
export function stored({ value, to, before, after }: KeyframeSettings): StoredKeyframe {
  if (to === 'monotone' && before === undefined && after === undefined) return value
  return { value, to, ...(before === undefined ? {} : { before }), ...(after === undefined ? {} : { after }) }
}

/** @returns the curve without its keyframe at the frame; when it was the last, the plain number it held */
export function withoutKeyframe(curve: Curve, frame: number): Curve {
  if (typeof curve === 'number') return curve
  const { [String(frame)]: gone, ...keyframes } = curve.keyframes
  if (Object.keys(keyframes).length > 0) return { ...curve, keyframes }
  return gone === undefined ? 0 : settingsOf(gone).value
}

/** A curve that goes on for ever at one rate. @param perFrame change from one frame to the next */
export const steadily = (frame: number, value: number, perFrame: number): Curve => ({
  keyframes: { [frame]: { value, to: 'straight', after: perFrame } },
  beyond: 'go-on',
})

/** @returns the change a frame of a curve that goes on at one rate; null of any other */
export function rateOf(curve: Curve): number | null {
  if (typeof curve === 'number' || curve.beyond !== 'go-on') return null
  const keyframes = keyframesOf(curve)
  return keyframes.length === 1 ? (keyframes[0].after ?? keyframes[0].before ?? 0) : null
}

/** Every value, and every slope with it, changed by a straight function. */
export function mappedCurve(curve: Curve, factor: number, shift: number): Curve {
  if (typeof curve === 'number') return curve * factor + shift
  const one = ({ value, to, before, after }: KeyframeSettings) =>
    stored({
      value: value * factor + shift,
      to,
      before: before === undefined ? undefined : before * factor,
      after: after === undefined ? undefined : after * factor,
    })
  return {
    ...curve,
    keyframes: Object.fromEntries(
      Object.entries(curve.keyframes).map(([frame, value]) => [frame, one(settingsOf(value))]),
    ),
  }
}

/** @returns whether the curve has one value, and just this one, on every frame */
export function isConstantly(curve: Curve, value: number): boolean {
  if (typeof curve === 'number') return curve === value
  const keyframes = keyframesOf(curve)
  const flat = ({ before = 0, after = 0 }: Keyframe) => before === 0 && after === 0
  return keyframes.every((one) => one.value === value && flat(one))
}
