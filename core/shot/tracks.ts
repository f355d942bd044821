/** Where tracks are at a time, and how what is pinned to them moves. */

import type { Matrix3 } from '../graph/steps'
import { identity } from '../graph/steps'
import { keyframesOf, valueAt, type Curve } from '../motion/curve'
import { fittedMotion } from '../motion/fitted-motion'
import { inverseOf, multiplied } from '../motion/mapping'
import { straightPlace } from '../motion/plate-motion'
import { evened } from '../motion/steadied'
import type { Spot } from '../motion/placing'
import { allOf, find, inOrder, lastRank, newId } from './find'
import type { LensOver } from './plate-lens'
import type { Pin, Shot, Track, TrackPoint } from './types'

type AcrossAndDown = readonly [across: Curve, down: Curve]

/** Tracks are never changed in place, so each is made into curves once: those that hold at their ends, and those that go on. */
const curves = new WeakMap<object, { readonly held: AcrossAndDown; readonly goingOn: AcrossAndDown }>()

function bothCurves({ points }: Track) {
  let found = curves.get(points)
  if (!found) {
    const frames = Object.keys(points)
      .map(Number)
      .sort((a, b) => a - b)
    const keyframes = (of: (point: TrackPoint) => number) => {
      const value = (frame: number) => of(points[frame])
      const slopes = { first: endSlope(frames, value), last: endSlope(frames.toReversed(), value) }
      return Object.fromEntries(
        frames.map((frame, i) => [
          frame,
          {
            ...{ value: value(frame), to: 'smooth' as const },
            // What is followed does not come from a rest on the first frame, nor to one on the last.
            ...(i === 0 ? { after: slopes.first } : {}),
            ...(i === frames.length - 1 ? { before: slopes.last } : {}),
          },
        ]),
      )
    }
    const [across, down] = [keyframes(({ x }) => x), keyframes(({ y }) => y)]
    const goesOn = (all: typeof across): Curve => ({ keyframes: all, beyond: 'go-on' })
    found = {
      held: [{ keyframes: across }, { keyframes: down }],
      goingOn: [goesOn(across), goesOn(down)],
    }
    curves.set(points, found)
  }
  return found
}

/** Slope at the first of some frames: of the parabola through three, the line through two; of one, none. */
function endSlope([a, b, c]: readonly number[], value: (frame: number) => number): number {
  if (b === undefined) return 0
  const first = (value(b) - value(a)) / (b - a)
  if (c === undefined) return first
  const second = (value(c) - value(b)) / (c - b)
  return first - ((second - first) * (b - a)) / (c - a)
}

/** Across and down: smooth through the frames where it is known, level before and after them. */
export const curvesOfTrack = (track: Track): AcrossAndDown => bothCurves(track).held

/** Frames for which a shutter is open before and after a frame's middle, at most. */
const shutterReach = 0.5

/**
 * Where a track is, in plate pixels. Before and after the frames where it is known it is as on the nearest of them; but it moves on as
 * long as the shutter of that frame may be open, so that motion blur has both its halves there.
 */
export function trackAt(track: Track, time: number): Spot {
  const { first, last } = framesOfTrack(track)
  const beyond = Math.max(first - time, time - last)
  const { held, goingOn } = bothCurves(track)
  const [across, down] = beyond > 0 && beyond <= shutterReach ? goingOn : held
  return [valueAt(across, time), valueAt(down, time)]
}

/** First and last frame where it is known. */
export function framesOfTrack(track: Track): { readonly first: number; readonly last: number } {
  const known = keyframesOf(curvesOfTrack(track)[0])
  return { first: known[0].frame, last: known[known.length - 1].frame }
}

/** By hand or by a camera: what was not found by following, and stays as it is. */
export const isGiven = (point: TrackPoint): boolean => !('likeness' in point)

const tracksOf = (shot: Shot, { tracks }: Pin): Track[] =>
  tracks.map((id) => find(shot.tracks, id)).filter((track) => track !== undefined)

/** Why a pin holds nothing, as a sentence and what cures it; null where it holds. */
export function faultOfPin(shot: Shot, pin: Pin): { readonly sentence: string; readonly remedy: string } | null {
  const tracks = tracksOf(shot, pin)
  if (tracks.length < pin.tracks.length)
    return {
      sentence: 'a track that it is pinned to is gone, so it is not moved by its pin',
      remedy: 'Pin it to another track, or undo the removal.',
    }
  const outside = tracks.find((track) => {
    const { first, last } = framesOfTrack(track)
    return pin.frame < first || pin.frame > last
  })
  if (outside) {
    const { first, last } = framesOfTrack(outside)
    return {
      sentence: `its pin rests on frame ${pin.frame}, but track ${outside.name} is known from ${first} to ${last} only`,
      remedy: 'Track to that frame, or let the pin rest on another.',
    }
  }
  const there = tracks.map((track) => trackAt(track, pin.frame))
  if (!fittedMotion(there, there, pin.by))
    return {
      sentence: 'its tracks lie in one place or on one line, which tells too little of their motion',
      remedy: 'Pin it to tracks that lie farther apart, or by position only.',
    }
  return null
}

/** First and last frame on which all of its tracks are known. */
function framesOfPin(shot: Shot, pin: Pin): { readonly first: number; readonly last: number } {
  const known = tracksOf(shot, pin).map(framesOfTrack)
  return { first: Math.max(...known.map((one) => one.first)), last: Math.min(...known.map((one) => one.last)) }
}

/** The pin, as it was measured, resting on the frame, or on the nearest one on which all of its tracks are known. @returns null where it holds nothing there */
export function pinRestingOn(shot: Shot, pin: Pin, frame: number): Pin | null {
  const { first, last } = framesOfPin(shot, pin)
  const { smooth: _smooth, ...measured } = pin
  const resting = { ...measured, frame: Math.min(last, Math.max(first, frame)) }
  return faultOfPin(shot, resting) ? null : resting
}

/** Whether it has ended at a time and is to be gone then. */
export function isGoneAt(shot: Shot, pin: Pin, time: number): boolean {
  if (pin.beyond === undefined) return false
  return pin.beyond === 'gone' ? framesBeyond(shot, pin, time) > 0 : shareAtEnd(shot, pin, time) === 0
}

/** How many frames before the first or after the last on which all of its tracks are known; 0 within. */
function framesBeyond(shot: Shot, pin: Pin, time: number): number {
  const { first, last } = framesOfPin(shot, pin)
  return Math.max(0, first - time, time - last)
}

const usualFade = 8

/** How much of what a pin holds is left where its tracks have ended: 1 within, falling evenly to 0 where it fades. */
export function shareAtEnd(shot: Shot, pin: Pin, time: number): number {
  if (pin.beyond !== 'faded' || tracksOf(shot, pin).length === 0) return 1
  return Math.max(0, 1 - framesBeyond(shot, pin, time) / (pin.fade ?? usualFade))
}

/**
 * How a pin moves what it holds; not at all on its own frame, and where it holds nothing.
 *
 * @param lens through which what it holds is seen; then in pixels of the straight picture, else of the plate as it is
 */
export function pinMatrix(shot: Shot, pin: Pin, time: number, lens: LensOver | null = null): Matrix3 {
  if (time === pin.frame || faultOfPin(shot, pin)) return identity
  if (pin.smooth !== undefined) return evenedPin(shot, pin, pin.smooth, time, lens)
  const tracks = tracksOf(shot, pin)
  const [from, to] = [pin.frame, time].map((when) => tracks.map((track) => straightTrackAt(track, when, lens)))
  return fittedMotion(from, to, pin.by) ?? identity
}

/** Where what a track follows lies without the lens. */
export function straightTrackAt(track: Track, time: number, lens: LensOver | null): Spot {
  const place = trackAt(track, time)
  return lens ? straightPlace(lens.at(time), place) : place
}

function evenedPin(
  shot: Shot,
  { smooth: _smooth, ...pin }: Pin,
  smoothing: number,
  time: number,
  lens: LensOver | null,
): Matrix3 {
  const frames = framesOfPin(shot, pin)
  const at = (when: number) => rememberedPinMatrix(shot, pin, when, lens)
  const spots = tracksOf(shot, pin).map((track) => straightTrackAt(track, pin.frame, lens))
  const mean = (axis: 0 | 1) => spots.reduce((sum, spot) => sum + spot[axis], 0) / spots.length
  const motion = { at, frames, middle: [mean(0), mean(1)] as const, smoothing }
  const within = (when: number) => Math.min(frames.last, Math.max(frames.first, when))
  // On its own frame it moves nothing, smoothed or not.
  const resting = inverseOf(evened(motion, pin.frame))
  const there = evened(motion, within(time))
  return resting ? multiplied(there, resting) : there
}

/** Of tracks, which are never changed in place: motions that were found already. */
const known = new WeakMap<object, Map<string, Matrix3>>()

/** The same, remembered: whoever smooths a motion asks for it at many times, again and again. */
export function rememberedPinMatrix(shot: Shot, pin: Pin, time: number, lens: LensOver | null = null): Matrix3 {
  let found = known.get(shot.tracks)
  if (!found) known.set(shot.tracks, (found = new Map()))
  const name = `${pin.tracks.join()} ${pin.frame} ${pin.by} ${pin.smooth} ${time} ${lens?.key ?? ''}`
  let matrix = found.get(name)
  if (!matrix) found.set(name, (matrix = pinMatrix(shot, pin, time, lens)))
  return matrix
}

/** Every curve that has a say in how a pin moves. */
export const curvesOfPin = (shot: Shot, pin: Pin): readonly Curve[] => tracksOf(shot, pin).flatMap(curvesOfTrack)

/** A new track, set by hand on a frame. */
export function newTrack(shot: Shot, frame: number, [x, y]: Spot): Track {
  const taken = new Set(allOf(shot.tracks).map(({ name }) => name))
  let number = 1
  while (taken.has(`Track ${number}`)) number++
  return {
    ...{ id: newId(), name: `Track ${number}`, rank: lastRank(inOrder(shot.tracks)) },
    ...{ model: 'translation', radius: 10, search: 12, unsized: true },
    points: { [frame]: { x, y, byHand: true } },
  }
}
