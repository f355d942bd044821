/** From the far scene, a pose and the guest's passes to the light that reaches the lens in every pixel of the plate. */

import { aim, turnedView, undistort, type Frame, type Lens, type Pose } from './camera'
import { farSceneRotation, type FarScene } from './far-scene'
import type { GroundPasses } from './ground-passes'
import type { GuestPasses } from './guest-passes'
import { castFront } from './quay'
import type { Ray } from './solids'

/** For every plate pixel, where its light came from in the undistorted picture (x, y at pixel centres). */
export function undistortMap(frame: Frame, lens: Lens): Float64Array {
  const map = new Float64Array(frame.width * frame.height * 2)
  for (let y = 0; y < frame.height; y++) {
    for (let x = 0; x < frame.width; x++) map.set(undistort(x + 0.5, y + 0.5, lens), (y * frame.width + x) * 2)
  }
  return map
}

function cubic(t: number): [number, number, number, number] {
  const t2 = t * t
  const t3 = t2 * t
  return [-0.5 * t + t2 - 0.5 * t3, 1 - 2.5 * t2 + 1.5 * t3, 0.5 * t + 2 * t2 - 1.5 * t3, -0.5 * t2 + 0.5 * t3]
}

/** Re-aims the far scene at the frame's pose, through the lens. */
export function aimedScene(
  scene: FarScene,
  rgb: Float32Array,
  frame: Frame,
  lens: Lens,
  pose: Pose,
  map: Float64Array,
): Float32Array {
  const view = turnedView(lens, pose)
  const ray: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
  const out = new Float32Array(frame.width * frame.height * 3)
  const r = farSceneRotation
  const clampX = (x: number) => Math.min(scene.width - 1, Math.max(0, x))
  const clampY = (y: number) => Math.min(scene.height - 1, Math.max(0, y))
  for (let i = 0; i < frame.width * frame.height; i++) {
    aim(ray, map[i * 2], map[i * 2 + 1], view)
    const cx = r[0] * ray.dx + r[3] * ray.dy + r[6] * ray.dz
    const cy = r[1] * ray.dx + r[4] * ray.dy + r[7] * ray.dz
    const cz = -(r[2] * ray.dx + r[5] * ray.dy + r[8] * ray.dz)
    const sx = scene.lens.centreX + (scene.lens.focal * cx) / cz - 0.5
    const sy = scene.lens.centreY - (scene.lens.focal * cy) / cz - 0.5
    const x0 = Math.floor(sx)
    const y0 = Math.floor(sy)
    const wx = cubic(sx - x0)
    const wy = cubic(sy - y0)
    for (let j = 0; j < 4; j++) {
      const row = clampY(y0 - 1 + j) * scene.width
      for (let k = 0; k < 4; k++) {
        const weight = wx[k] * wy[j]
        const at = (row + clampX(x0 - 1 + k)) * 3
        out[i * 3] += weight * rgb[at]
        out[i * 3 + 1] += weight * rgb[at + 1]
        out[i * 3 + 2] += weight * rgb[at + 2]
      }
    }
    for (let c = 0; c < 3; c++) if (out[i * 3 + c] < 0) out[i * 3 + c] = 0
  }
  return out
}

/** Coverage of the bollard and the rope in plate pixels, before the lens's blur. */
export function frontCoverage(frame: Frame, lens: Lens, pose: Pose, map: Float64Array): Float32Array {
  const view = turnedView(lens, pose)
  const ray: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
  const { width, height } = frame
  const out = new Float32Array(width * height)
  const sampleAt = (x: number, y: number, jx: number, jy: number) => {
    const i = (y * width + x) * 2
    aim(ray, map[i] + jx, map[i + 1] + jy, view)
    return castFront(ray) < Infinity ? 1 : 0
  }
  // Nothing in front is thinner than the rope, a good 12 pixels of a frame 1280 wide: a coarse look finds where to look well.
  const coarse = Math.max(2, Math.floor(width / 160))
  const near = (x: number, y: number) => {
    const left = Math.floor(x / coarse) * coarse
    const top = Math.floor(y / coarse) * coarse
    return seen.get(top * width + left)
  }
  const seen = new Map<number, boolean>()
  for (let y = Math.floor((height * 0.5) / coarse) * coarse; y < height; y += coarse) {
    for (let x = 0; x < width; x += coarse) {
      let any = false
      for (const [i, j] of [
        [0, 0],
        [1, 0],
        [0, 1],
        [1, 1],
        [0.5, 0.5],
        [0.5, 0],
        [0, 0.5],
        [-0.5, 0.5],
        [0.5, -0.5],
        [1.5, 0.5],
        [0.5, 1.5],
      ]) {
        any ||= sampleAt(Math.min(width - 1, x), Math.min(height - 1, y), i * coarse, j * coarse) > 0
      }
      seen.set(y * width + x, any)
    }
  }
  for (let y = Math.floor(height * 0.5); y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!near(x, y)) continue
      const corners =
        sampleAt(x, y, -0.33, -0.33) +
        sampleAt(x, y, 0.33, -0.33) +
        sampleAt(x, y, -0.33, 0.33) +
        sampleAt(x, y, 0.33, 0.33)
      if (corners === 0 || corners === 4) {
        out[y * width + x] = corners / 4
        continue
      }
      let hits = 0
      for (let s = 0; s < 16; s++) hits += sampleAt(x, y, ((s & 3) - 1.5) / 4, ((s >> 2) - 1.5) / 4)
      out[y * width + x] = hits / 16
    }
  }
  return out
}

/** The value between the four pixels about (x, y); pixels beyond the picture have the value `outside`. */
function bilinear(
  source: Float32Array,
  channels: number,
  channel: number,
  { width, height }: Frame,
  x: number,
  y: number,
  outside: number,
): number {
  const x0 = Math.floor(x)
  const y0 = Math.floor(y)
  const left = x0 >= 0 && x0 < width
  const right = x0 + 1 >= 0 && x0 + 1 < width
  const at = (y0 * width + x0) * channels + channel
  const below = at + width * channels
  const top = y0 >= 0 && y0 < height
  const bottom = y0 + 1 >= 0 && y0 + 1 < height
  const a = left && top ? source[at] : outside
  const b = right && top ? source[at + channels] : outside
  const c = left && bottom ? source[below] : outside
  const d = right && bottom ? source[below + channels] : outside
  const upper = a + (b - a) * (x - x0)
  const lower = c + (d - c) * (x - x0)
  return upper + (lower - upper) * (y - y0)
}

/** The truth: the light there would be with the guest standing on the quay, in plate pixels. */
export function withGuest(
  scene: Float32Array,
  frame: Frame,
  map: Float64Array,
  guest: GuestPasses,
  ground: GroundPasses,
  front: Float32Array,
): Float32Array {
  const out = scene.slice()
  const g = guest.window
  const s = ground.window
  const beauty = new Float32Array(guest.alpha.length * 3)
  for (const pass of guest.light) for (let i = 0; i < beauty.length; i++) beauty[i] += pass[i]
  for (let i = 0; i < frame.width * frame.height; i++) {
    const shows = 1 - front[i]
    if (shows === 0) continue
    const x = map[i * 2] - 0.5
    const y = map[i * 2 + 1] - 0.5
    const inGround = x >= s.x && y >= s.y && x < s.x + s.width && y < s.y + s.height
    const inGuest = x >= g.x - 1 && y >= g.y - 1 && x < g.x + g.width && y < g.y + g.height
    if (!inGround && !inGuest) continue
    const alpha = inGuest ? bilinear(guest.alpha, 1, 0, g, x - g.x, y - g.y, 0) : 0
    for (let c = 0; c < 3; c++) {
      let behind = scene[i * 3 + c]
      if (inGround) {
        behind =
          behind * bilinear(ground.ratio, 3, c, s, x - s.x, y - s.y, 1) +
          bilinear(ground.reflection, 3, c, s, x - s.x, y - s.y, 0)
      }
      const light = inGuest ? bilinear(beauty, 3, c, g, x - g.x, y - g.y, 0) : 0
      out[i * 3 + c] = scene[i * 3 + c] * front[i] + (light + behind * (1 - alpha)) * shows
    }
  }
  return out
}
