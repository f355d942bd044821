/**
 * Finds a track on frames where it is not known: from the frames where it was set by hand, each with its own pattern, as far as the
 * next of them.
 */

import type { Window } from '../image/window'
import { patternSize, trackPoint, type PatternSize, type TrackedPoint } from '../track'
import type { SetTrackPoints } from './edits/tracks'
import { isGiven } from './tracks'
import type { FrameRange, Track, TrackPoint } from './types'

export type TrackingWay = 'forward' | 'backward' | 'both'

/** From a frame that was set by hand to another, that one included. */
export interface Stretch {
  readonly from: number
  readonly to: number
}

/** Frames on which a track was set by hand, in order. */
export const handSet = ({ points }: Track): number[] =>
  Object.entries(points)
    .filter(([, point]) => isGiven(point))
    .map(([frame]) => Number(frame))
    .sort((a, b) => a - b)

/** From the last frame that was set by hand before this one, or from the first after it. */
function onward(set: readonly number[], frame: number, sign: 1 | -1, end: number): Stretch[] {
  const ordered = sign === 1 ? set : set.toReversed()
  const start = ordered.findLast((one) => sign * (frame - one) >= 0) ?? ordered.at(0)
  return start === undefined ? [] : fromEach(ordered.slice(ordered.indexOf(start)), sign, end)
}

const fromEach = (set: readonly number[], sign: 1 | -1, end: number): Stretch[] =>
  set
    .map((from, i) => ({ from, to: i + 1 < set.length ? set[i + 1] - sign : end }))
    .filter(({ from, to }) => sign * (to - from) > 0)

/** What is to be followed, from a frame on, in one way or both. */
export function stretchesFrom(track: Track, frame: number, way: TrackingWay, { first, last }: FrameRange): Stretch[] {
  const set = handSet(track).filter((one) => one >= first && one <= last)
  return [
    ...(way === 'backward' ? [] : onward(set, frame, 1, last)),
    ...(way === 'forward' ? [] : onward(set, frame, -1, first)),
  ]
}

/** What is to be followed anew once it was set by hand on a frame: as far as the next such frames, or as it was known. */
export function stretchesAround(track: Track, frame: number, { first, last }: FrameRange): Stretch[] {
  const set = handSet(track)
  const known = Object.keys(track.points)
    .map(Number)
    .filter((one) => one >= first && one <= last)
  if (frame < first || frame > last) return []
  const next = set.find((one) => one > frame && one <= last)
  const before = set.findLast((one) => one < frame && one >= first)
  return [
    { from: frame, to: next === undefined ? Math.max(frame, ...known) : next - 1 },
    { from: frame, to: before === undefined ? Math.min(frame, ...known) : before + 1 },
  ].filter(({ from, to }) => from !== to)
}

const fine = (value: number) => Math.round(value * 1e4) / 1e4

export interface FollowingTrack {
  /** premultiplied RGBA of a window of the plate, which may reach beyond the frame */
  readonly light: (frame: number, window: Window) => Promise<Float32Array>
  readonly frameSize: { readonly width: number; readonly height: number }
  readonly signal?: AbortSignal
  /** told after every frame: what was found on it, and all that was found so far */
  readonly found?: (soFar: () => SetTrackPoints, frame: number, point: TrackPoint) => void
}

/**
 * Where a track was on the frame at which a stretch ends by hand, it is drawn towards the points it had, more so the nearer it comes: so
 * nothing jumps on the frame before.
 *
 * @returns the edit with what was found, and where it was lost; frames set by hand stay as they are
 * @throws NothingToFollowError, and what `light` throws
 */
export async function followTrack(
  track: Track,
  stretches: readonly Stretch[],
  { light, frameSize, signal, found = () => undefined }: FollowingTrack,
): Promise<SetTrackPoints> {
  const points: Record<string, TrackPoint | null> = {}
  const lost: Record<string, string> = {}
  const size = track.unsized && !signal?.aborted ? await sizeOf(track, stretches, light, frameSize) : null
  const soFar = (): SetTrackPoints => ({
    kind: 'set-track-points',
    track: track.id,
    points: { ...points },
    lost: { ...lost },
    ...(size ? { size } : {}),
  })
  for (const { from, to } of stretches) {
    if (signal?.aborted) break
    const start = track.points[from]
    const beyond = from < to ? to + 1 : to - 1
    const joins = (track.points as Record<string, TrackPoint | undefined>)[beyond]
    const drawn = joins !== undefined && isGiven(joins)
    const put = ({ frame, at, error, likeness }: TrackedPoint) => {
      if (frame === from) return
      const before = drawn ? (track.points as Record<string, TrackPoint | undefined>)[frame] : undefined
      const share = before ? Math.abs(frame - beyond) / Math.abs(from - beyond) : 1
      const point: TrackPoint = {
        x: fine(before ? share * at.x + (1 - share) * before.x : at.x),
        y: fine(before ? share * at.y + (1 - share) * before.y : at.y),
        ...{ across: fine(error.x), down: fine(error.y), likeness: fine(likeness) },
      }
      points[frame] = point
      found(soFar, frame, point)
    }
    const { model } = track
    const { radius, search } = size ?? track
    const { stopped } = await trackPoint(
      light,
      frameSize,
      { point: { x: start.x, y: start.y }, from, to, model, radius, search, ...(signal ? { signal } : {}) },
      put,
    )
    if (!stopped) continue
    lost[stopped.frame] = stopped.why
    // What was found there before was found from elsewhere, or by another setting: it is known no more.
    for (const frame of Object.keys(track.points)) {
      const at = Number(frame)
      const inside = (at - stopped.frame) * (to - from) >= 0 && (to - at) * (to - from) >= 0
      if (inside && !isGiven(track.points[frame])) points[frame] = null
    }
  }
  return soFar()
}

/** As it is measured where the first stretch begins. */
function sizeOf(
  { points }: Track,
  [first]: readonly Stretch[],
  light: FollowingTrack['light'],
  frameSize: FollowingTrack['frameSize'],
): Promise<PatternSize | null> {
  if (!(first as Stretch | undefined)) return Promise.resolve(null)
  const { from, to } = first
  const { x, y } = points[from]
  return patternSize(light, frameSize, { x, y }, from, from === to ? null : from + Math.sign(to - from))
}
