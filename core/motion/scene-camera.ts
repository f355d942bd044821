/** A camera in a scene: where it shows places, and what it is like where all that is known is a flat rectangle. Units of the scene; y up; it looks along its own -z (glTF 2.0). */

import { leastBetween } from '../algebra/golden-section'
import { solved } from '../algebra/solved'
import { cross, dot, lengthOf, minus, plus, times, unit, type Vector3 } from '../algebra/vector3'
import { multiplied } from './mapping'
import { cornerMatrix, type Spot } from './placing'

export type Quaternion = readonly [x: number, y: number, z: number, w: number]

export interface CameraPose {
  readonly place: Vector3
  /** from the camera to the scene */
  readonly turn: Quaternion
  /** height of what it sees as an angle, in radians */
  readonly height: number
  /** of the optical axis from the middle of the picture, to the right and down, in heights of the picture */
  readonly offset: readonly [number, number]
}

export interface Size {
  readonly width: number
  readonly height: number
}
export interface Picture extends Size {
  /** width of a pixel by its height */
  readonly pixelAspect: number
}

/** Rows are the camera's axes in the scene. */
type Axes = readonly [Vector3, Vector3, Vector3]

function axesOf([x, y, z, w]: Quaternion): Axes {
  return [
    [1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)],
    [2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)],
    [2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)],
  ]
}

/** By the largest of the four parts first (Shepperd 1978). */
function turnOf([right, up, back]: Axes): Quaternion {
  const parts = [
    right[0] - up[1] - back[2],
    up[1] - right[0] - back[2],
    back[2] - right[0] - up[1],
    right[0] + up[1] + back[2],
  ]
  const largest = parts.indexOf(Math.max(...parts))
  const half = Math.sqrt(1 + parts[largest]) / 2
  const q = 1 / (4 * half)
  if (largest === 0) return [half, (right[1] + up[0]) * q, (right[2] + back[0]) * q, (up[2] - back[1]) * q]
  if (largest === 1) return [(right[1] + up[0]) * q, half, (up[2] + back[1]) * q, (back[0] - right[2]) * q]
  if (largest === 2) return [(right[2] + back[0]) * q, (up[2] + back[1]) * q, half, (right[1] - up[0]) * q]
  return [(up[2] - back[1]) * q, (back[0] - right[2]) * q, (right[1] - up[0]) * q, half]
}

/** @returns where the straight picture shows a place of the scene, in full-scale pixels; null behind the camera */
export function seenBy(pose: CameraPose, place: Vector3, { width, height, pixelAspect }: Picture): Spot | null {
  const axes = axesOf(pose.turn)
  const away = minus(place, pose.place)
  const depth = -dot(axes[2], away)
  if (!(depth > 0)) return null
  const focal = height / 2 / Math.tan(pose.height / 2)
  const [right, down] = pose.offset
  return [
    width / 2 + (right * height + (focal * dot(axes[0], away)) / depth) / pixelAspect,
    height / 2 + down * height - (focal * dot(axes[1], away)) / depth,
  ]
}

/** The corners of the rectangle that is 1 high, so wide, in the plane z = 0, as a picture's are named: upper left, upper right, lower right, lower left. */
const rectangle = (ratio: number): readonly [Vector3, Vector3, Vector3, Vector3] => [
  [0, 1, 0],
  [ratio, 1, 0],
  [ratio, 0, 0],
  [0, 0, 0],
]

interface Standing {
  readonly axes: Axes
  readonly place: Vector3
}

export interface CameraOverPlane {
  /** pixels, with its standard error where it was told by the corners; 0 where it was given */
  readonly focal: number
  readonly error: number
  /** of the corners, beside where this camera shows them: root mean square of both axes, pixels */
  readonly rms: number
  /** for each of the frames; null where its corners are no rectangle of that shape seen from in front */
  readonly poses: readonly (CameraPose | null)[]
}

export interface PlaneSeen {
  /** for each frame its corners in the straight picture, in pixels that are square */
  readonly frames: readonly (readonly Spot[])[]
  /** its width over its height */
  readonly ratio: number
  /** what the camera looks at, likewise */
  readonly middle: Spot
  readonly picture: Size
  /** pixels; absent: as the corners tell it */
  readonly focal?: number
  /** standard error of a corner's place, pixels */
  readonly cornerError: number
}

const leastFocal = 0.2
const mostFocal = 20
const tries = 40
/** The focal length is judged on so many frames at most. */
const mostJudged = 12
/** A focal length that is told no better than this is not told. */
const mostError = 0.25

/**
 * The camera for which flat corners that were followed are corners of one rectangle that stands still. Each frame's pose by the plane's homography
 * (Zhang 2000), then the least distance in pixels; the focal length is one for all frames.
 *
 * @returns null where they do not tell it: with a focal length that was not given, a plane seen from straight ahead tells none
 */
export function cameraOverPlane(seen: PlaneSeen): CameraOverPlane | null {
  const { picture, frames } = seen
  const size = Math.max(picture.width, picture.height)
  const judged = frames.filter((_, i) => i % Math.ceil(frames.length / mostJudged) === 0)
  const cost = (focal: number) =>
    judged.reduce((sum, corners) => {
      const one = standing(corners, seen, focal)
      return one ? sum + missOf(one, corners, seen, focal) : Infinity
    }, 0)
  let focal = seen.focal ?? 0
  let error = 0
  if (seen.focal === undefined) {
    focal = Math.exp(least((log) => cost(Math.exp(log)), Math.log(leastFocal * size), Math.log(mostFocal * size)))
    // The square of the distance bends up by one variance at one standard error.
    const step = 0.02 * focal
    const bend = (cost(focal - step) - 2 * cost(focal) + cost(focal + step)) / step ** 2
    error = Math.sqrt((2 * seen.cornerError ** 2) / bend)
    if (!(error < mostError * focal)) return null
  }
  const found = frames.map((corners) => standing(corners, seen, focal))
  const known = found.filter((one) => one !== null).length
  if (known === 0) return null
  const miss = found.reduce((sum, one, i) => sum + (one ? missOf(one, frames[i], seen, focal) : 0), 0)
  const [u, v] = seen.middle
  const view = {
    height: 2 * Math.atan(picture.height / 2 / focal),
    offset: [(u - picture.width / 2) / picture.height, (v - picture.height / 2) / picture.height] as const,
  }
  return {
    ...{ focal, error, rms: Math.sqrt(miss / (known * 8)) },
    poses: found.map((one) => one && { place: one.place, turn: turnOf(one.axes), ...view }),
  }
}

/** Where a function of one number is least between two, by sections in the golden ratio after a coarse look. */
function least(of: (x: number) => number, from: number, to: number): number {
  const coarse = Array.from({ length: tries + 1 }, (_, i) => from + ((to - from) * i) / tries)
  const costs = coarse.map(of)
  const best = costs.indexOf(Math.min(...costs))
  return leastBetween(of, coarse[Math.max(0, best - 1)], coarse[Math.min(tries, best + 1)], 1e-9)
}

function shown({ axes, place }: Standing, at: Vector3, [u, v]: Spot, focal: number): Spot {
  const away = minus(at, place)
  const depth = -dot(axes[2], away)
  return [u + (focal * dot(axes[0], away)) / depth, v - (focal * dot(axes[1], away)) / depth]
}

function missOf(one: Standing, corners: readonly Spot[], { ratio, middle }: PlaneSeen, focal: number): number {
  return rectangle(ratio).reduce((sum, at, i) => {
    const [x, y] = shown(one, at, middle, focal)
    return sum + (x - corners[i][0]) ** 2 + (y - corners[i][1]) ** 2
  }, 0)
}

/** Where the camera stands on a frame: as the homography says, then brought to the least distance (Gauss and Newton). */
function standing(corners: readonly Spot[], seen: PlaneSeen, focal: number): Standing | null {
  const { ratio, middle } = seen
  let one = firstStanding(corners, seen, focal)
  for (let round = 0; one && round < rounds; round++) {
    const now: Standing = one
    const normal = new Float64Array(36)
    const right = new Float64Array(6)
    rectangle(ratio).forEach((at, i) => {
      const place = shown(now, at, middle, focal)
      const slopes = Array.from({ length: 6 }, (_, k) => {
        const [x, y] = shown(nudged(now, k, nudge), at, middle, focal)
        return [(x - place[0]) / nudge, (y - place[1]) / nudge]
      })
      for (const axis of [0, 1] as const) {
        const off = corners[i][axis] - place[axis]
        for (let a = 0; a < 6; a++) {
          right[a] += slopes[a][axis] * off
          for (let b = 0; b < 6; b++) normal[a * 6 + b] += slopes[a][axis] * slopes[b][axis]
        }
      }
    })
    const step = solved(normal, right)
    if (!step) return null
    one = step.reduce((moved: Standing, by, k) => nudged(moved, k, by), now)
    if (Math.max(...step.map(Math.abs)) < 1e-10) break
  }
  return one && one.place[2] > 0 ? one : null
}

const rounds = 12
const nudge = 1e-6

/** Turned about one of its own axes, or moved along one of the scene's. */
function nudged({ axes, place }: Standing, k: number, by: number): Standing {
  if (k >= 3) return { axes, place: plus(place, [k === 3 ? by : 0, k === 4 ? by : 0, k === 5 ? by : 0]) }
  const [a, b] = [(k + 1) % 3, (k + 2) % 3]
  const [cos, sin] = [Math.cos(by), Math.sin(by)]
  const turned = [...axes] as [Vector3, Vector3, Vector3]
  turned[a] = plus(times(axes[a], cos), axes[b], sin)
  turned[b] = plus(times(axes[b], cos), axes[a], -sin)
  return { axes: turned, place }
}

function firstStanding(corners: readonly Spot[], { ratio, middle: [u, v] }: PlaneSeen, focal: number): Standing | null {
  // From the plane's own places, y up, to the picture.
  const onto = cornerMatrix({ x: 0, y: 0, width: ratio, height: 1 }, corners)
  if (!onto) return null
  const upright = multiplied(onto, [1, 0, 0, 0, -1, 1, 0, 0, 1])
  const [a, b, c, d, e, f, g, h, i] = upright
  const ray = (x: number, y: number, w: number): Vector3 => [(x - u * w) / focal, (v * w - y) / focal, -w]
  const [first, second, third] = [ray(a, d, g), ray(b, e, h), ray(c, f, i)]
  const size = (lengthOf(first) + lengthOf(second)) / 2
  const sign = third[2] < 0 ? 1 : -1
  const right = unit(times(first, sign))
  const away = cross(right, unit(times(second, sign)))
  const back = unit(away)
  const up = cross(back, right)
  const moved = times(third, sign / size)
  // Columns of the turn from the plane to the camera are the plane's axes as the camera has them: its rows are the camera's in the plane.
  const axes: Axes = [
    [right[0], up[0], back[0]],
    [right[1], up[1], back[1]],
    [right[2], up[2], back[2]],
  ]
  const place = times([0, 1, 2].map((k) => dot(moved, [axes[0][k], axes[1][k], axes[2][k]])) as unknown as Vector3, -1)
  return { axes, place }
}

/** The scene laid down, so that the plane z = 0 becomes the ground y = 0, and enlarged. */
export function laidDown({ place: [x, y, z], turn, ...view }: CameraPose, lies: boolean, size: number): CameraPose {
  if (!lies) return { ...view, turn, place: [x * size, y * size, z * size] }
  // A quarter turn about x, backwards: (x, y, z) goes to (x, z, -y).
  const half = Math.SQRT1_2
  const [qx, qy, qz, qw] = turn
  return {
    ...view,
    place: [x * size, z * size, -y * size],
    turn: [half * (qx - qw), half * (qy + qz), half * (qz - qy), half * (qw + qx)],
  }
}

/** How upright the camera stands over the plane z = 0: 1 where that is a floor to it, 0 where it is a wall. */
export const floorness = ({ turn }: CameraPose): number => Math.abs(axesOf(turn)[1][2])
