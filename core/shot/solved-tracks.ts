/** Tracks of what a known camera sees: a place of its scene as a point that is followed, a flat rectangle as a region. */

import { bent } from '../motion/lens'
import { cross, dot, lengthOf, minus, plus, times, unit, type Vector3 } from '../algebra/vector3'
import { seenBy, type CameraPose } from '../motion/scene-camera'
import type { Spot } from '../motion/placing'
import type { Change, Together } from './edits'
import { allOf, inOrder, lastRank, newId, rankBetween } from './find'
import { fromUpperLeft } from './plane-of-tracks'
import { lensOver } from './plate-lens'
import type { Shot, Track, TrackPoint } from './types'

/** How a camera stands on a frame of the shot. */
export interface FramePose extends CameraPose {
  readonly frame: number
}

/** A camera file, as a shot understands it. */
export interface SolvedScene {
  readonly cameras: readonly { readonly name: string; readonly poses: readonly FramePose[] }[]
  readonly points: readonly { readonly name: string; readonly place: Vector3 }[]
  readonly planes: readonly { readonly name: string; readonly corners: readonly Vector3[] }[]
  /** whether the file says which frames its seconds stand for; otherwise its first key is the shot's first frame */
  readonly saysFrames: boolean
}

/** Nothing is placed farther from the frame than so many of its widths: what is nearly beside the camera runs away. */
const farthest = 20
const fine = (value: number) => Math.round(value * 1e4) / 1e4

/** Where the plate shows a place of the scene; null behind the camera, or far beside what it sees. */
export function placeOnPlate(shot: Shot, pose: FramePose, place: Vector3): Spot | null {
  const { frameSize, pixelAspect } = shot
  const straight = seenBy(pose, place, { ...frameSize, pixelAspect })
  if (!straight) return null
  const lens = lensOver(shot, null)
  const [x, y] = lens ? bent(lens.at(pose.frame), straight) : straight
  const reach = farthest * frameSize.width
  return Math.abs(x) < reach && Math.abs(y) < reach ? [x, y] : null
}

function pointsOf(shot: Shot, poses: readonly FramePose[], place: Vector3): Record<string, TrackPoint> {
  const points: Record<string, TrackPoint> = {}
  for (const pose of poses) {
    const spot = placeOnPlate(shot, pose, place)
    if (spot) points[pose.frame] = { x: fine(spot[0]), y: fine(spot[1]), solved: true }
  }
  return points
}

function newName(shot: Shot, wanted: string): string {
  const taken = new Set(allOf(shot.tracks).map(({ name }) => name))
  const isTaken = (name: string) => taken.has(name) || taken.has(`${name}, corner 1`)
  if (!isTaken(wanted)) return wanted
  let number = 2
  while (isTaken(`${wanted} ${number}`)) number++
  return `${wanted} ${number}`
}

const pattern = { model: 'translation', radius: 10, search: 12 } as const

/** @returns the edit that adds a track of a place; null where no frame sees it */
export function trackOfPlace(shot: Shot, poses: readonly FramePose[], name: string, place: Vector3): Change | null {
  const points = pointsOf(shot, poses, place)
  if (Object.keys(points).length === 0) return null
  const rank = lastRank(inOrder(shot.tracks))
  return { kind: 'add-track', track: { id: newId(), name: newName(shot, capital(name)), rank, ...pattern, points } }
}

/**
 * @param corners around a flat rectangle
 * @returns the edit that adds it as a region which is a plane of its true shape; null where no frame sees all four corners
 */
export function regionOfRectangle(
  shot: Shot,
  poses: readonly FramePose[],
  wanted: string,
  corners: readonly Vector3[],
): Together | null {
  const frames = poses.filter((pose) => corners.every((corner) => placeOnPlate(shot, pose, corner)))
  const first = frames.at(0)
  if (!first) return null
  const ordered = fromUpperLeft(corners, (corner) => placeOnPlate(shot, first, corner) as Spot)
  const side = (i: number) => lengthOf(minus(ordered[i + 1], ordered[i]))
  const plane = { ratio: side(0) / side(1), height: side(1) }
  const region = newId()
  const name = newName(shot, capital(wanted))
  let rank = lastRank(inOrder(shot.tracks))
  const changes = ordered.map((place, corner) => {
    const track: Track = {
      ...{ id: newId(), name: `${name}, corner ${corner + 1}`, rank, ...pattern },
      region: { id: region, corner, model: 'homography', plane },
      points: pointsOf(shot, frames, place),
    }
    rank = rankBetween(rank, null)
    return { kind: 'add-track', track } as const
  })
  return { kind: 'together', changes, label: `Add plane ${name}` }
}

const capital = (name: string) => name.charAt(0).toUpperCase() + name.slice(1)

/** Three places, or more that lie about in a plane: the rectangle in it around them, level where the plane stands. Null where they lie in a line. */
export function rectangleThrough(places: readonly Vector3[]): readonly Vector3[] | null {
  const middle = times(
    places.reduce((sum, place) => plus(sum, place), origin),
    1 / places.length,
  )
  const away = places.map((place) => minus(place, middle))
  const spread = Math.max(...away.map(lengthOf))
  // The normal is the mean over all pairs, each as much as it spans, turned as that which spans most.
  const pairs = away.flatMap((a, i) => away.slice(i + 1).map((b) => cross(a, b)))
  const widest = pairs.reduce((most, one) => (lengthOf(one) > lengthOf(most) ? one : most), origin)
  if (!(lengthOf(widest) > 1e-4 * spread * spread)) return null
  const normal = unit(pairs.reduce((sum, one) => plus(sum, one, dot(one, widest) < 0 ? -1 : 1), origin))
  const isFloor = Math.abs(normal[1]) > 0.99
  const level = unit(isFloor ? plus([1, 0, 0], normal, -normal[0]) : cross([0, 1, 0], normal))
  const up = cross(normal, level)
  const along = away.map((one) => dot(one, level))
  const across = away.map((one) => dot(one, up))
  const corner = (a: number, b: number) => plus(plus(middle, level, a), up, b)
  const [left, right] = [Math.min(...along), Math.max(...along)]
  const [bottom, top] = [Math.min(...across), Math.max(...across)]
  return [corner(left, top), corner(right, top), corner(right, bottom), corner(left, bottom)]
}

const origin: Vector3 = [0, 0, 0]
