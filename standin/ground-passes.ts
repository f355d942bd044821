/** The farm's ground passes: the guest's shadow, occlusion and mirror image on the quay. */

import type { Window } from '../core/image/window'
import { castGuest, guestSpace, newGuestHit, type GuestPose, type GuestSpace } from './bell'
import { aim } from './camera'
import { boundsOf, overscanOf, shadeGuest, type PassRequest } from './guest-passes'
import { lightGround, newGroundLight, wetGround } from './light'
import { hash3, random3 } from './noise'
import { lamps, quayEdge } from './quay'
import { lengthOf, type Ray } from './solids'

export interface GroundPasses {
  readonly window: Window
  /** share of the lamps' light that the guest takes away, 0..1, of red, green and blue: the lamps differ in colour */
  readonly shadow: Float32Array
  /** share of the sky light that still arrives, 0..1 */
  readonly occlusion: Float32Array
  /** light added by the guest's mirror image */
  readonly reflection: Float32Array
  /** true picture of the ground with the guest there, over the one without: for the truth only */
  readonly ratio: Float32Array
}

/** Seen from above: does a line from (x, z) along (dx, dz) come within a metre of the guest? */
function passesGuest({ hook }: GuestPose, x: number, z: number, dx: number, dz: number): boolean {
  const toX = hook.x - x
  const toZ = hook.z - z
  const along = (toX * dx + toZ * dz) / lengthOf(dx, dz)
  return along > 0 && toX * toX + toZ * toZ - along * along < 1
}

/** The guest takes no sky from ground that is so far from where it comes down, in metres; it fades over the last piece. */
const skyReach = 2.0
const fadeFrom = 1.2

/** Whether the guest can darken the ground at (x, z). */
export function withinReach(pose: GuestPose, x: number, z: number): boolean {
  if (lengthOf(pose.hook.x - x, pose.hook.z - z) < skyReach) return true
  return lamps.some((lamp) => passesGuest(pose, x, z, lamp.x - x, lamp.z - z))
}

/** The share of the sky's light that still reaches the ground at (x, z). */
export function skyShareAt({ px, pz, pose }: GuestSpace, x: number, z: number): number {
  const away = lengthOf(x - px, z - pz)
  const lift = Math.max(0, pose.lift)
  const gap = lengthOf(Math.max(0, away - 0.66), lift)
  const afar = lengthOf(x - pose.hook.x, z - pose.hook.z)
  const fade = Math.min(1, Math.max(0, (skyReach - afar) / (skyReach - fadeFrom)))
  return 1 - (away < 0.7 && lift < 0.02 ? 0.95 : 0.78 * Math.exp(-gap * 2.6) * fade)
}

/** What looking at the ground takes along. */
interface GroundLook {
  readonly request: PassRequest
  readonly space: GuestSpace
  readonly window: Window
  readonly ray: Ray
  readonly ground: ReturnType<typeof newGroundLight>
  readonly hit: ReturnType<typeof newGuestHit>
}

const onGround = { x: 0, z: 0 }
const firstLook = 2
const mostSamples = 6

/** Aims at a place inside a pixel; @returns whether the quay's stones are there */
function aimAtGround({ request, ray }: GroundLook, px: number, py: number): boolean {
  aim(ray, px, py, request.view)
  if (ray.dy >= 0) return false
  const t = -ray.oy / ray.dy
  onGround.x = ray.ox + t * ray.dx
  onGround.z = ray.oz + t * ray.dz
  return onGround.z > quayEdge
}

function sampleOffset(s: number, seed: number, axis: 0 | 1): number {
  return (((s * (axis ? 7 : 4)) % 9) + ((seed >> (axis * 8)) & 255) / 256) / 9
}

/** The farm knows the quay as one bare plane. Shadow and occlusion are soft, so every second pixel is enough for them. */
export function renderGround(request: PassRequest): GroundPasses {
  const { hook } = request.pose
  const reach = 2.6
  const corners: number[][] = []
  for (const x of [-reach, reach * 0.9]) for (const z of [-skyReach, 3.4]) corners.push([hook.x + x, 0, hook.z + z])
  const window = boundsOf(corners, request, overscanOf(request.frame), 2)
  const count = window.width * window.height
  const look: GroundLook = {
    request,
    space: guestSpace(request.pose),
    window,
    ray: { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 },
    ground: newGroundLight(),
    hit: newGuestHit(),
  }
  const reflection = new Float32Array(count * 3)
  for (let row = 0; row < window.height; row++) {
    for (let column = 0; column < window.width; column++) mirrorInGround(look, column, row, reflection)
  }
  const coarse = renderGroundLight(look)
  const enlarge = (values: Float32Array, channels: number) =>
    enlarged(values, channels, coarse.width, coarse.height, window)
  return {
    window,
    shadow: enlarge(coarse.shadow, 3),
    occlusion: enlarge(coarse.occlusion, 1),
    ratio: enlarge(coarse.ratio, 3),
    reflection,
  }
}

const mirrorSample = new Float64Array(15)
const bounce: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }

function mirrorInGround(look: GroundLook, column: number, row: number, reflection: Float32Array): void {
  const { request, space, window, ray, ground, hit } = look
  const x = window.x + column
  const y = window.y + row
  if (!aimAtGround(look, x + 0.5, y + 0.5) || !passesGuest(request.pose, onGround.x, onGround.z, ray.dx, ray.dz)) return
  let touched = false
  let taken = 0
  const sum = [0, 0, 0]
  for (let s = 0; s < mostSamples && (s < firstLook || touched); s++) {
    taken++
    const seed = hash3(x, y, 5000 + s)
    if (!aimAtGround(look, x + sampleOffset(s, seed, 0), y + sampleOffset(s, seed, 1))) continue
    wetGround(ray, onGround, ground)
    const spread = 0.02 + 0.1 * (1 - ground.wet)
    const nx = ground.nx + (random3(seed, 3, 1) - 0.5) * spread
    const nz = ground.nz + (random3(seed, 3, 2) - 0.5) * spread
    const k = 2 * (nx * ray.dx + ground.ny * ray.dy + nz * ray.dz)
    bounce.ox = onGround.x
    bounce.oy = 1e-3
    bounce.oz = onGround.z
    bounce.dx = ray.dx - k * nx
    bounce.dy = Math.abs(ray.dy - k * ground.ny)
    bounce.dz = ray.dz - k * nz
    const n = 1 / lengthOf(bounce.dx, bounce.dy, bounce.dz)
    bounce.dx *= n
    bounce.dy *= n
    bounce.dz *= n
    castGuest(bounce, space, hit, true)
    if (hit.t === Infinity) continue
    touched = true
    shadeGuest(bounce, hit, request.shot, seed + 9, request.pose.lift, mirrorSample)
    for (let c = 0; c < 3; c++) {
      let radiance = 0
      for (let i = c; i < 15; i += 3) radiance += mirrorSample[i]
      sum[c] += Math.min(4, radiance) * ground.fresnel
    }
  }
  for (let c = 0; c < 3; c++) reflection[(row * window.width + column) * 3 + c] = sum[c] / taken
}

/** The farm's sky is weaker than the real one by about as much as its lamps are off. */
const knownOfSky = 0.7

interface CoarseGround {
  readonly width: number
  readonly height: number
  readonly shadow: Float32Array
  readonly occlusion: Float32Array
  readonly ratio: Float32Array
}

function renderGroundLight(look: GroundLook): CoarseGround {
  const { request, space, window, ray, ground, hit } = look
  const width = Math.ceil(window.width / 2) + 1
  const height = Math.ceil(window.height / 2) + 1
  const out: CoarseGround = {
    width,
    height,
    shadow: new Float32Array(width * height * 3),
    occlusion: new Float32Array(width * height).fill(1),
    ratio: new Float32Array(width * height * 3).fill(1),
  }
  const blocker = (towards: Ray, distance: number) => {
    castGuest(towards, space, hit, false)
    return hit.t < distance
  }
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const x = window.x + column * 2
      const y = window.y + row * 2
      if (!aimAtGround(look, x + 0.5, y + 0.5) || !withinReach(request.pose, onGround.x, onGround.z)) continue
      let [skyShare, found, touched] = [0, 0, false]
      const [lit, blocked, open] = [
        [0, 0, 0],
        [0, 0, 0],
        [0, 0, 0],
      ]
      const withGuest = [0, 0, 0]
      const without = [0, 0, 0]
      for (let s = 0; s < mostSamples && (s < 2 || touched); s++) {
        const seed = hash3(x, y, 7000 + s)
        if (!aimAtGround(look, x + 2 * sampleOffset(s, seed, 0) - 0.5, y + 2 * sampleOffset(s, seed, 1) - 0.5)) continue
        found++
        lightGround(ray, onGround, request.shot, seed, blocker, ground)
        const share = skyShareAt(space, onGround.x, onGround.z)
        skyShare += share
        for (let c = 0; c < 3; c++) {
          lit[c] += ground.direct[c]
          blocked[c] += ground.directBlocked[c]
          open[c] += ground.indirect[c]
          touched ||= ground.directBlocked[c] > 0
          without[c] += ground.direct[c] + ground.directBlocked[c] + ground.indirect[c]
          withGuest[c] += ground.direct[c] + ground.indirect[c] * share
        }
      }
      if (found === 0) continue
      const at = row * width + column
      out.occlusion[at] = skyShare / found
      for (let c = 0; c < 3; c++) {
        const all = lit[c] + blocked[c] + knownOfSky * open[c]
        out.shadow[at * 3 + c] = blocked[c] > 0 ? blocked[c] / all : 0
        out.ratio[at * 3 + c] = without[c] > 0 ? withGuest[c] / without[c] : 1
      }
    }
  }
  return out
}

/** Twice the size, sample (0, 0) staying on pixel (0, 0); values between are means of their neighbours. */
function enlarged(values: Float32Array, channels: number, width: number, height: number, window: Window): Float32Array {
  const out = new Float32Array(window.width * window.height * channels)
  for (let y = 0; y < window.height; y++) {
    const top = y >> 1
    const bottom = Math.min(height - 1, top + (y & 1))
    for (let x = 0; x < window.width; x++) {
      const left = x >> 1
      const right = Math.min(width - 1, left + (x & 1))
      for (let c = 0; c < channels; c++) {
        const at = (i: number, j: number) => values[(j * width + i) * channels + c]
        out[(y * window.width + x) * channels + c] =
          (at(left, top) + at(right, top) + at(left, bottom) + at(right, bottom)) / 4
      }
    }
  }
  return out
}
