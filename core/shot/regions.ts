/** Regions that are followed: their four corners are tracks like others, so that whatever goes with tracks goes with them. */

import { asItIsOn, ratioOf } from './planes'
import { nameOfRegion } from './region-name'
import { cornersOf, isConvex, type Spot } from '../motion/placing'
import { cornerNames } from '../set/owners'
import { trackCamera, trackRegion, type TrackedRegion } from '../track'
import type { RegionWay } from '../track/pattern-models'
import type { SingleChange, Together } from './edits'
import type { SetTrackPoints } from './edits/tracks'
import { allOf, inOrder, lastRank, newId, rankBetween } from './find'
import type { FollowingTrack, Stretch } from './follow-track'
import { lensOver, type LensOver } from './plate-lens'
import { isGiven, straightTrackAt } from './tracks'
import type { Element, Pin, Shot, Track, TrackPoint } from './types'

/** Upper left, upper right, lower right, lower left, as it was outlined. */
export const cornerCount = 4

/** Tracks are never changed in place: the same corners are given again. */
const regionsOf = new WeakMap<Shot['tracks'], Map<string, readonly Track[] | null>>()

/** The corners of a region, in order; null where one of them is gone. */
export function cornersOfRegion({ tracks }: Pick<Shot, 'tracks'>, region: string): readonly Track[] | null {
  let known = regionsOf.get(tracks)
  if (!known) regionsOf.set(tracks, (known = new Map()))
  const before = known.get(region)
  if (before !== undefined) return before
  const all = allOf(tracks)
    .filter((track) => track.region?.id === region)
    .sort((a, b) => (a.region?.corner ?? 0) - (b.region?.corner ?? 0))
  const found = all.length === cornerCount ? all : null
  known.set(region, found)
  return found
}

/** The first frame on which all of its corners were set by hand: there it looks as it is looked for. */
export function outlinedOn(corners: readonly Track[]): number | null {
  const [first] = corners
  const frames = Object.keys(first.points).map(Number)
  return (
    frames
      .sort((a, b) => a - b)
      .find((frame) => corners.every(({ points }) => Object.hasOwn(points, frame) && isGiven(points[frame]))) ?? null
  )
}

/** Four new tracks, set by hand on a frame. @param corners in order */
export function newRegion(shot: Shot, frame: number, corners: readonly Spot[], model: RegionWay): Together {
  const name = newRegionName(shot, 'Region')
  return { ...cornersAdded(shot, frame, corners, { name, model }), label: `Outline ${name.toLowerCase()} to track` }
}

/**
 * Four corners in the frame that move as the camera does, told by many points from a frame on. In perspective: of a camera that
 * turns, nothing less holds out to the corners.
 */
export function newCameraShake(shot: Shot, frame: number): Together {
  const { width, height } = shot.frameSize
  const corners = cornersOf({ x: width / 8, y: height / 8, width: (3 * width) / 4, height: (3 * height) / 4 })
  const name = newRegionName(shot, 'Camera shake')
  const added = cornersAdded(shot, frame, corners, { name, model: 'homography', by: 'points' })
  return { ...added, label: `Add ${name.toLowerCase()}` }
}

/** A name that no region has yet. */
export function newRegionName(shot: Shot, word: string): string {
  const taken = new Set(allOf(shot.tracks).map(nameOfRegion))
  let number = 1
  while (taken.has(`${word} ${number}`)) number++
  return `${word} ${number}`
}

interface RegionMade {
  readonly name: string
  readonly model: RegionWay
  readonly by?: 'points'
}

function cornersAdded(
  shot: Shot,
  frame: number,
  corners: readonly Spot[],
  { name, ...how }: RegionMade,
): Omit<Together, 'label'> {
  const region = newId()
  let rank = lastRank(inOrder(shot.tracks))
  const changes = corners.map(([x, y], corner) => {
    const track: Track = {
      ...{ id: newId(), name: `${name}, corner ${corner + 1}`, rank },
      ...{ model: 'translation', radius: 10, search: 12 },
      region: { id: region, corner, ...how },
      points: { [frame]: { x, y, byHand: true } },
    }
    rank = rankBetween(rank, null)
    return { kind: 'add-track', track } as const
  })
  return { kind: 'together', changes }
}

/** What is found of a region's corners on a frame, by their ids. */
export type CornersFound = Readonly<Record<string, TrackPoint>>

export interface FollowingRegion extends Omit<FollowingTrack, 'found'> {
  readonly found?: (frame: number, points: CornersFound) => void
  /** through which the plate is seen, where that is known */
  readonly lens?: LensOver | null
  /** areas within the region on a frame that are no part of it */
  readonly leftOut?: (frame: number) => readonly (readonly Spot[])[]
}

const fine = (value: number) => Math.round(value * 1e4) / 1e4

/**
 * Follows a region from where it was outlined; corners that were set by hand elsewhere stay as they are.
 *
 * @returns the edit with what was found and where it was lost
 * @throws NothingToFollowError, and what `light` throws
 */
export async function followRegion(
  corners: readonly Track[],
  stretches: readonly Stretch[],
  { light, frameSize, signal, lens = null, found = () => undefined, leftOut = () => [] }: FollowingRegion,
): Promise<Together> {
  const points: Record<string, Record<string, TrackPoint | null>> = Object.fromEntries(
    corners.map(({ id }) => [id, {}]),
  )
  const lost: Record<string, string> = {}
  for (const { from, to } of stretches) {
    if (signal?.aborted) break
    const outline = corners.map((track): Spot => [track.points[from].x, track.points[from].y])
    const put = (one: TrackedRegion) => {
      if (one.frame === from) return
      const there = cornersOn(corners, one)
      for (const [id, point] of Object.entries(there)) points[id][one.frame] = point
      found(one.frame, there)
    }
    const { model = 'homography', by } = corners[0].region ?? {}
    const seen = lens ? { lens: lens.at } : {}
    const given = { outline, excluded: leftOut(from), from, to, ...seen, ...(signal ? { signal } : {}) }
    const { stopped } =
      by === 'points'
        ? await trackCamera(light, frameSize, { ...given, model: model === 'least' ? 'homography' : model }, put)
        : await trackRegion(light, frameSize, { ...given, model }, put)
    if (!stopped) continue
    lost[stopped.frame] = stopped.why
    for (const { id, points: known } of corners)
      for (const frame of Object.keys(known)) {
        const at = Number(frame)
        const inside = (at - stopped.frame) * (to - from) >= 0 && (to - at) * (to - from) >= 0
        if (inside && !isGiven(known[frame])) points[id][frame] = null
      }
  }
  const changes = corners.map(({ id }): SetTrackPoints => ({
    kind: 'set-track-points',
    track: id,
    points: points[id],
    lost,
  }))
  const frames = Object.keys(points[corners[0].id]).length
  return {
    kind: 'together',
    changes,
    label: `${nameOfRegion(corners[0])} on ${frames} ${frames === 1 ? 'frame' : 'frames'}`,
  }
}

function cornersOn(corners: readonly Track[], { frame, places, errors, agrees }: TrackedRegion): CornersFound {
  const found = corners.flatMap(({ id, points }, i): [string, TrackPoint][] => {
    const known = (points as Record<string, TrackPoint | undefined>)[frame]
    const place = places[i]
    if (known && isGiven(known)) return []
    const { across, down } = errors[i]
    return [
      [
        id,
        {
          ...{ x: fine(place[0]), y: fine(place[1]) },
          ...{ across: fine(Math.min(across, 1000)), down: fine(Math.min(down, 1000)), likeness: fine(agrees) },
        },
      ],
    ]
  })
  return Object.fromEntries(found)
}

/** How a picture lies on a region: filling its corners, or as it is, as large as fits. */
export type Lying = 'filling' | 'as it is'

/**
 * Lays a placed element on a region as it is on a frame, pinned in perspective from there: a still on a wall or a table.
 *
 * @returns null where a corner is not known on the frame, or they fold
 */
export function laidOn(
  shot: Shot,
  element: Element,
  corners: readonly Track[],
  frame: number,
  lying: Lying = 'filling',
): Together | null {
  const { placing } = element
  const known = corners.every(({ points }) => Object.hasOwn(points, frame))
  const lens = lensOver(shot, element)
  const spots = corners.map((corner) => straightTrackAt(corner, frame, lens))
  if (!placing || !known || !isConvex(spots)) return null
  const to =
    lying === 'filling' ? spots : asItIsOn(spots, ratioOf(shot, corners), corners[0].region?.plane ?? {}, placing.box)
  if (!to) return null
  const set = (parameter: string, value: number): SingleChange => ({
    kind: 'set-parameter',
    at: { owner: { kind: 'placing', element: element.id }, parameter, channel: 0 },
    frame,
    value,
  })
  const plain = { x: 0, y: 0, rotation: 0, scale: 1, stretch: 1, skew: 0 }
  const pulls = cornersOf(placing.box).flatMap(([x, y], i) => [
    set(`${cornerNames[i]}X`, to[i][0] - x),
    set(`${cornerNames[i]}Y`, to[i][1] - y),
  ])
  const pin: Pin = { tracks: corners.map(({ id }) => id), frame, by: 'homography' }
  return {
    kind: 'together',
    changes: [
      { kind: 'set-placing', element: element.id, changes: { pin, with: null } },
      ...Object.entries(plain).map(([name, value]) => set(name, value)),
      ...pulls,
    ],
    label: `Lay ${element.name} on ${nameOfRegion(corners[0]).toLowerCase()}`,
  }
}
