/** The camera of quay-020: carried past the quay while its lens zooms, so that near things pass before far ones. */

import type { CameraPose, ScenePlane, ScenePoint } from '../formats/camera'
import type { GuestPose } from './bell'
import {
  aim,
  distort,
  project,
  rotationOf,
  type Frame,
  type Lens,
  type Pose,
  type Projected,
  type View,
} from './camera'
import { random3 } from './noise'
import { cast, newHit } from './quay'
import type { Ray } from './solids'

/** The shutter is open from a quarter of a frame before each frame to a quarter after it: 180 degrees. */
export const shutterOpen = 0.5

interface Carried extends Pose {
  readonly x: number
  readonly y: number
  readonly z: number
  readonly zoom: number
}

/** @param index of the frame, from 0; may lie between two */
function carriedAt(index: number, seed: number): Carried {
  const t = index / 24
  const p = seed * 1.3
  const x = -1.15 + 1.15 * t + 0.02 * Math.sin(1.7 * t + p)
  return {
    x,
    y: 1.55 + 0.05 * Math.sin(0.9 * t + p),
    z: -0.35 * t + 0.015 * Math.sin(2.3 * t + p),
    zoom: 1 + 0.045 * t,
    // It is kept on the middle of the quay.
    yaw: 0.115 * x + 0.0016 * Math.sin(2.1 * t + p),
    pitch: -0.045 + 0.002 * Math.sin(1.3 * t + 2 * p),
    roll: 0.002 * Math.sin(1.2 * t + p),
  }
}

export function movingView(index: number, seed: number, lens: Lens): View {
  const { x, y, z, zoom, ...pose } = carriedAt(index, seed)
  return { lens, rotation: rotationOf(pose), eye: { x, y, z }, zoom }
}

/** The bell on its way across, 40 pixels a frame at 1280: hoisted, swinging, turning. */
export function crossingPoseAt(index: number): GuestPose {
  const t = index / 24
  return {
    kind: 'bell',
    hook: { x: -3.1 + 5.6 * t, y: 4.3, z: -7.1 },
    lift: 0.22 + 0.05 * Math.sin(2.6 * t),
    swingX: -0.06 + 0.05 * Math.sin(3.1 * t + 0.4),
    swingZ: 0.02 * Math.sin(2.7 * t),
    turn: 0.3 + 0.5 * t,
  }
}

/** As glTF has it. */
export function cameraPose(index: number, seed: number, lens: Lens, { width, height }: Frame): CameraPose {
  const { x, y, z, zoom, yaw, pitch, roll } = carriedAt(index, seed)
  const [cy, sy] = [Math.cos(yaw / 2), Math.sin(yaw / 2)]
  const [cp, sp] = [Math.cos(pitch / 2), Math.sin(pitch / 2)]
  const [cr, sr] = [Math.cos(roll / 2), Math.sin(roll / 2)]
  return {
    place: [x, y, z],
    // about the upright, then up and down, then about the axis
    turn: [
      cy * sp * cr + sy * cp * sr,
      sy * cp * cr - cy * sp * sr,
      cy * cp * sr - sy * sp * cr,
      cy * cp * cr + sy * sp * sr,
    ],
    height: 2 * Math.atan(height / 2 / (lens.focal * zoom)),
    offset: [(lens.centreX - width / 2) / height, (lens.centreY - height / 2) / height],
  }
}

/** Flat things that a solve would find: a piece of the stones, and the near side of the lower crate. */
export const scenePlanes: readonly ScenePlane[] = [
  {
    name: 'Stones',
    corners: [
      [-1.5, 0, -9.5],
      [1.5, 0, -9.5],
      [1.5, 0, -6.5],
      [-1.5, 0, -6.5],
    ],
  },
  {
    name: 'Crate',
    corners: [
      [-3.75, 0.62, -8.3],
      [-3.05, 0.62, -8.3],
      [-3.05, 0, -8.3],
      [-3.75, 0, -8.3],
    ],
  },
]

const wanted = 60
const tried = 6000

/** Points of the scene that are seen on the first, the middle and the last frame, as a solve would deliver them. */
export function scenePoints(frames: number, seed: number, lens: Lens, { width, height }: Frame): ScenePoint[] {
  const views = [0, (frames - 1) / 2, frames - 1].map((index) => movingView(index, seed, lens))
  const found: ScenePoint[] = []
  const ray: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
  const hit = newHit()
  for (let i = 0; i < tried && found.length < wanted; i++) {
    aim(ray, width * random3(i, seed, 41), height * random3(i, seed, 42), views[0])
    cast(ray, hit, true)
    const { x, y, z, what } = hit
    if (what === 'sky' || what === 'water' || z < -40) continue
    const isFixed = views.every((view) => isSeen(x, y, z, view, { width, height }))
    if (isFixed) found.push({ name: `point ${found.length + 1}`, place: [x, y, z] })
  }
  return found
}

const seen: Projected = { x: 0, y: 0, depth: 0 }
const sight: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
const met = newHit()

function isSeen(x: number, y: number, z: number, view: View, { width, height }: Frame): boolean {
  project(x, y, z, view, seen)
  const [px, py] = distort(seen.x, seen.y, view.lens)
  if (!(seen.depth > 0) || px < 0 || py < 0 || px > width || py > height) return false
  aim(sight, seen.x, seen.y, view)
  cast(sight, met, true)
  const { eye } = view
  const distance = Math.hypot(x - eye.x, y - eye.y, z - eye.z)
  return Math.abs(met.t - distance) < 0.01 * distance
}
