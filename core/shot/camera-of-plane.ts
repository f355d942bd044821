/** The camera that is told by a followed region which is a flat rectangle of the scene. */

import type { Vector3 } from '../algebra/vector3'
import { cameraOverPlane, floorness, laidDown } from '../motion/scene-camera'
import type { Spot } from '../motion/placing'
import { errorsOf, ratioOf } from './planes'
import { lensOver } from './plate-lens'
import type { FramePose } from './solved-tracks'
import { straightTrackAt } from './tracks'
import type { Shot, Track } from './types'

export interface CameraOfPlane {
  /** for each frame on which it is told; units are metres where the plane's height is */
  readonly poses: readonly FramePose[]
  /** in plate pixels (those of height, where pixels are not square), with its standard error; 0 where it was given */
  readonly focal: number
  readonly error: number
  /** pixels between the corners and where this camera shows them, root mean square of both axes */
  readonly rms: number
  /** the plane is a floor, y = 0; otherwise a wall, z = 0 */
  readonly lies: boolean
  /** upper left, upper right, lower right, lower left */
  readonly corners: readonly [Vector3, Vector3, Vector3, Vector3]
}

/** What is told of a camera that was written. */
export interface PlaneCamera extends Pick<CameraOfPlane, 'focal' | 'error' | 'rms' | 'lies'> {
  /** on so many it is told */
  readonly frames: number
  /** the text of a .gltf file */
  readonly file: string
}

/**
 * The lower left corner is the origin; on a floor, what is far is -z. A lens known by its numbers is taken out first.
 *
 * @param focal as in {@link CameraOfPlane}; absent: as the corners tell it
 * @returns null where they do not tell it
 */
export function cameraOfPlane(shot: Shot, corners: readonly Track[], focal?: number): CameraOfPlane | null {
  const { frameSize, pixelAspect, frames: range } = shot
  const known = Object.keys(corners[0].points)
    .map(Number)
    .filter((frame) => frame >= range.first && frame <= range.last)
    .filter((frame) => corners.every(({ points }) => Object.hasOwn(points, frame)))
    .sort((a, b) => a - b)
  if (known.length === 0) return null
  const lens = lensOver(shot, null)
  const square = ([x, y]: Spot): Spot => [x * pixelAspect, y]
  const errors = known.flatMap((frame) => corners.flatMap(({ points }) => errorsOf(points[frame])))
  const ratio = ratioOf(shot, corners)
  const found = cameraOverPlane({
    frames: known.map((frame) => corners.map((corner) => square(straightTrackAt(corner, frame, lens)))),
    ratio,
    middle: square(lens ? lens.at(known[0]).centre : [frameSize.width / 2, frameSize.height / 2]),
    picture: { width: frameSize.width * pixelAspect, height: frameSize.height },
    focal,
    cornerError: Math.sqrt(errors.reduce((sum, error) => sum + error * error, 0) / errors.length),
  })
  if (!found) return null
  const first = found.poses.find((pose) => pose !== null)
  const lies = first ? floorness(first) > Math.SQRT1_2 : false
  const size = corners[0].region?.plane?.height ?? 1
  const up = (height: number, x: number): Vector3 => (lies ? [x, 0, -height] : [x, height, 0])
  const wide = ratio * size
  return {
    ...{ focal: found.focal, error: found.error, rms: found.rms, lies },
    poses: found.poses.flatMap((pose, i) => (pose ? [{ frame: known[i], ...laidDown(pose, lies, size) }] : [])),
    corners: [up(size, 0), up(size, wide), up(0, wide), up(0, 0)],
  }
}
