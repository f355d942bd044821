/** The camera: where it stands and points, a pinhole, and a lens with barrel distortion (OpenCV's model). */

import { lengthOf, type Ray } from './solids'

export interface Frame {
  readonly width: number
  readonly height: number
}

export interface Pose {
  /** radians: left/right, up/down, about the axis */
  readonly yaw: number
  readonly pitch: number
  readonly roll: number
}

export interface Lens {
  /** focal length in pixels */
  readonly focal: number
  readonly centreX: number
  readonly centreY: number
  readonly k1: number
  readonly k2: number
}

export interface Place {
  readonly x: number
  readonly y: number
  readonly z: number
}

/** What a ray needs to know of the camera. */
export interface View {
  readonly lens: Lens
  /** from camera to world, row-major */
  readonly rotation: Float64Array
  readonly eye: Place
  /** times the lens's focal length; how it bends stays as it is */
  readonly zoom: number
}

/** Where the camera of quay-010 stands. */
export const eye: Place = { x: 0, y: 1.55, z: 0 }
export const restPitch = -0.045

/** A camera that only turns. */
export function turnedView(lens: Lens, pose: Pose): View {
  return { lens, rotation: rotationOf(pose), eye, zoom: 1 }
}

/** Where the camera points on frame `index` (0 is the first): slow drift and a small tremor. */
export function swayAt(index: number, seed: number): Pose {
  const t = index / 24
  const p = seed * 1.7
  return {
    yaw: 0.0021 * Math.sin(1.9 * t + p) + 0.0007 * Math.sin(6.1 * t + 2 * p),
    pitch: restPitch + 0.0016 * Math.sin(1.4 * t + 1 + p) + 0.0005 * Math.sin(7.3 * t + p),
    roll: 0.0011 * Math.sin(1.1 * t + 2 + p),
  }
}

export function lensFor(frame: Frame, seed: number): Lens {
  const vary = ((seed * 37) % 11) / 10 - 0.1
  return {
    focal: frame.width * 1.094,
    centreX: frame.width / 2 + 3.5,
    centreY: frame.height / 2 - 2.25,
    k1: -0.062 - 0.012 * vary,
    k2: 0.018,
  }
}

/** Row-major rotation from camera to world. */
export function rotationOf(pose: Pose): Float64Array {
  const [cy, sy] = [Math.cos(pose.yaw), Math.sin(pose.yaw)]
  const [cp, sp] = [Math.cos(pose.pitch), Math.sin(pose.pitch)]
  const [cr, sr] = [Math.cos(pose.roll), Math.sin(pose.roll)]
  return Float64Array.of(
    cy * cr + sy * sp * sr, -cy * sr + sy * sp * cr, sy * cp,
    cp * sr, cp * cr, -sp,
    -sy * cr + cy * sp * sr, sy * sr + cy * sp * cr, cy * cp,
  ) // prettier-ignore
}

/** Points a ray through an undistorted pixel position (y downwards). */
export function aim(ray: Ray, px: number, py: number, { lens, rotation, eye, zoom }: View): void {
  const focal = lens.focal * zoom
  const x = (px - lens.centreX) / focal
  const y = -(py - lens.centreY) / focal
  const n = 1 / lengthOf(x, y, 1)
  ray.ox = eye.x
  ray.oy = eye.y
  ray.oz = eye.z
  ray.dx = (rotation[0] * x + rotation[1] * y - rotation[2]) * n
  ray.dy = (rotation[3] * x + rotation[4] * y - rotation[5]) * n
  ray.dz = (rotation[6] * x + rotation[7] * y - rotation[8]) * n
}

export interface Projected {
  x: number
  y: number
  /** planar depth, metres */
  depth: number
}

/** Where a point of the world falls in the undistorted picture. */
export function project(
  wx: number,
  wy: number,
  wz: number,
  { lens, rotation: r, eye, zoom }: View,
  out: Projected,
): void {
  const focal = lens.focal * zoom
  const x = wx - eye.x
  const y = wy - eye.y
  const z = wz - eye.z
  const cx = r[0] * x + r[3] * y + r[6] * z
  const cy = r[1] * x + r[4] * y + r[7] * z
  const cz = -(r[2] * x + r[5] * y + r[8] * z)
  out.x = lens.centreX + (focal * cx) / cz
  out.y = lens.centreY - (focal * cy) / cz
  out.depth = cz
}

/** From an undistorted position to where the lens puts it. */
export function distort(x: number, y: number, lens: Lens): [number, number] {
  const u = (x - lens.centreX) / lens.focal
  const v = (y - lens.centreY) / lens.focal
  const r2 = u * u + v * v
  const k = 1 + lens.k1 * r2 + lens.k2 * r2 * r2
  return [lens.centreX + u * k * lens.focal, lens.centreY + v * k * lens.focal]
}

/** The way back, by Newton's method on the radius. */
export function undistort(x: number, y: number, lens: Lens): [number, number] {
  const u = (x - lens.centreX) / lens.focal
  const v = (y - lens.centreY) / lens.focal
  const distorted = lengthOf(u, v)
  if (distorted === 0) return [x, y]
  let r = distorted
  for (let i = 0; i < 12; i++) {
    const r2 = r * r
    const error = r * (1 + lens.k1 * r2 + lens.k2 * r2 * r2) - distorted
    const step = error / (1 + 3 * lens.k1 * r2 + 5 * lens.k2 * r2 * r2)
    r -= step
    if (Math.abs(step) < 1e-12) break
  }
  const k = r / distorted
  return [lens.centreX + u * k * lens.focal, lens.centreY + v * k * lens.focal]
}
