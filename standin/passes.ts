/** The render farm: the guest's passes and its shadow, occlusion and reflection on the ground, clean, sharp and undistorted. */

import type { Window } from '../core/image/window'
import {
  castGuest,
  finishAt,
  guestSpace,
  newFinish,
  newGuestHit,
  toWorld,
  type GuestPose,
  type GuestSpace,
} from './bell'
import { aim, eye, project, type Frame, type Lens, type Projected } from './camera'
import {
  lightGround,
  newGroundLight,
  newLampLight,
  sampleLamp,
  skyLight,
  specularLobe,
  wetGround,
  type Shot,
} from './light'
import { hash3, random3 } from './noise'
import { bellPlace, lamps, quayEdge, sky } from './quay'
import type { Ray } from './solids'

export const lightPasses = [
  'diffuse_direct',
  'diffuse_indirect',
  'specular_direct',
  'specular_indirect',
  'emission',
] as const

/** Undistorted pictures over a window; every array has one entry, or three, for each pixel. */
export interface GuestPasses {
  readonly window: Window
  readonly alpha: Float32Array
  /** premultiplied, in the order of {@link lightPasses} */
  readonly light: readonly Float32Array[]
  /** planar depth in metres of the nearest sample; 0 where nothing is */
  readonly depth: Float32Array
  readonly normal: Float32Array
  readonly facing: Float32Array
  /** pixels to the next frame, right and down */
  readonly motion: Float32Array
}

export interface GroundPasses {
  readonly window: Window
  /** share of the lamps' light that the guest takes away, 0..1 */
  readonly shadow: Float32Array
  /** share of the sky light that still arrives, 0..1 */
  readonly occlusion: Float32Array
  /** light added by the guest's mirror image */
  readonly reflection: Float32Array
  /** true picture of the ground with the guest there, over the one without: for the truth only */
  readonly ratio: Float32Array
}

export interface PassRequest {
  readonly frame: Frame
  readonly lens: Lens
  readonly rotation: Float64Array
  readonly nextRotation: Float64Array
  readonly pose: GuestPose
  readonly nextPose: GuestPose
  readonly shot: Shot
}

const rgbOut = new Float64Array(3)
const skyOut = new Float64Array(3)
const lampLight = newLampLight()
const finish = newFinish()

function boundsOf(
  points: readonly (readonly number[])[],
  request: PassRequest,
  overscan: Window,
  margin: number,
): Window {
  const p: Projected = { x: 0, y: 0, depth: 0 }
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const [x, y, z] of points) {
    project(x, y, z, request.lens, request.rotation, p)
    x0 = Math.min(x0, p.x)
    x1 = Math.max(x1, p.x)
    y0 = Math.min(y0, p.y)
    y1 = Math.max(y1, p.y)
  }
  const left = Math.max(overscan.x, Math.floor(x0) - margin)
  const top = Math.max(overscan.y, Math.floor(y0) - margin)
  return {
    x: left,
    y: top,
    width: Math.min(overscan.x + overscan.width, Math.ceil(x1) + margin) - left,
    height: Math.min(overscan.y + overscan.height, Math.ceil(y1) + margin) - top,
  }
}

/** 5 % on every side, so that distorting the CG leaves no gap at the frame's edge. */
export function overscanOf(frame: Frame): Window {
  const x = Math.round(frame.width * 0.05)
  const y = Math.round(frame.height * 0.05)
  return { x: -x, y: -y, width: frame.width + 2 * x, height: frame.height + 2 * y }
}

/** Light of one guest sample by pass, into `out` (five times three values). */
function shadeGuest(
  ray: Ray,
  hit: ReturnType<typeof newGuestHit>,
  shot: Shot,
  seed: number,
  lift: number,
  out: Float64Array,
): void {
  finishAt(hit, finish)
  out.fill(0)
  const x = ray.ox + ray.dx * hit.t
  const y = ray.oy + ray.dy * hit.t
  const z = ray.oz + ray.dz * hit.t
  const nv = Math.max(1e-3, -(hit.nx * ray.dx + hit.ny * ray.dy + hit.nz * ray.dz))
  const nearGround = hit.part === 'chain' ? 1 : Math.min(1, 0.25 + (hit.ly + lift) * 1.5 + Math.max(0, hit.ny) * 0.4)
  for (const i of [0, 1] as const) {
    sampleLamp(
      i,
      x + hit.nx * 2e-3,
      y + hit.ny * 2e-3,
      z + hit.nz * 2e-3,
      random3(seed, i, 11),
      random3(seed, i, 12),
      shot,
      null,
      lampLight,
    )
    const nl = hit.nx * lampLight.lx + hit.ny * lampLight.ly + hit.nz * lampLight.lz
    if (nl <= 0 || lampLight.blockedByQuay) continue
    const hx = lampLight.lx - ray.dx
    const hy = lampLight.ly - ray.dy
    const hz = lampLight.lz - ray.dz
    const hl = Math.hypot(hx, hy, hz)
    const vh = Math.max(0, -(hx * ray.dx + hy * ray.dy + hz * ray.dz) / hl)
    const lobe = specularLobe(nl, nv, (hit.nx * hx + hit.ny * hy + hit.nz * hz) / hl, finish.roughness)
    for (let c = 0; c < 3; c++) {
      const e = lampLight.irradiance[c] * nl
      const fresnel = finish.f0[c] + (1 - finish.f0[c]) * (1 - vh) ** 5
      out[c] += (e * finish.diffuse[c]) / Math.PI
      out[6 + c] += e * Math.min(60, lobe) * fresnel
    }
  }
  skyLight(hit.ny, skyOut)
  const k = -2 * (hit.nx * ray.dx + hit.ny * ray.dy + hit.nz * ray.dz)
  const spread = finish.roughness * finish.roughness
  let rx = ray.dx + k * hit.nx + (random3(seed, 5, 1) - 0.5) * spread
  let ry = ray.dy + k * hit.ny + (random3(seed, 5, 2) - 0.5) * spread
  let rz = ray.dz + k * hit.nz + (random3(seed, 5, 3) - 0.5) * spread
  const n = 1 / Math.hypot(rx, ry, rz)
  rx *= n
  ry *= n
  rz *= n
  around(rx, ry, rz, x, y, z, rgbOut)
  const edge = (1 - nv) ** 5 * (1 - finish.roughness)
  for (let c = 0; c < 3; c++) {
    out[3 + c] = finish.diffuse[c] * skyOut[c] * nearGround * 1.1
    out[9 + c] = rgbOut[c] * (finish.f0[c] + (1 - finish.f0[c]) * edge) * nearGround
    out[12 + c] = finish.glow[c] * nv
  }
}

const skyColumns = 256
const skyRows = 96
let skyTable: Float32Array | null = null

/** The sky as mirrored things see it: looked up by direction, since a rough mirror needs no cloud to the pixel. */
function skyFromTable(dx: number, dy: number, dz: number, out: Float64Array): void {
  if (!skyTable) {
    skyTable = new Float32Array(skyColumns * skyRows * 3)
    const colour = new Float64Array(3)
    for (let row = 0; row < skyRows; row++) {
      // Rows are closer near the horizon, where the sky changes most.
      const up = ((row + 0.5) / skyRows) ** 2
      const level = Math.sqrt(1 - up * up)
      for (let column = 0; column < skyColumns; column++) {
        const turn = ((column + 0.5) / skyColumns) * 2 * Math.PI
        sky(Math.cos(turn) * level, up, Math.sin(turn) * level, colour)
        skyTable.set(colour, (row * skyColumns + column) * 3)
      }
    }
  }
  const row = Math.min(skyRows - 1, Math.floor(Math.sqrt(dy) * skyRows))
  const turn = Math.atan2(dz, dx) / (2 * Math.PI)
  const column = Math.min(skyColumns - 1, Math.floor((turn < 0 ? turn + 1 : turn) * skyColumns))
  const at = (row * skyColumns + column) * 3
  for (let c = 0; c < 3; c++) out[c] = skyTable[at + c]
}

/** What a polished thing on the quay mirrors: sky, mist, wet ground lit by the lamps. */
function around(dx: number, dy: number, dz: number, x: number, y: number, z: number, out: Float64Array): void {
  if (dy > -0.02) return skyFromTable(dx, Math.max(0.003, dy), dz, out)
  const t = Math.min(20, y / -dy)
  const gx = x + dx * t
  const gz = z + dz * t
  const patch = 0.7 + 0.6 * random3(Math.floor(gx * 2), Math.floor(gz * 3.3), 8)
  const warm = 9 / (6 + (gx + 2.9) ** 2 + (gz + 10.2) ** 2)
  const cool = 8 / (6 + (gx - 3.55) ** 2 + (gz + 11.6) ** 2)
  out[0] = (0.014 + 0.05 * warm + 0.012 * cool) * patch
  out[1] = (0.015 + 0.026 * warm + 0.022 * cool) * patch
  out[2] = (0.018 + 0.01 * warm + 0.033 * cool) * patch
}

export function renderGuest(request: PassRequest): GuestPasses {
  const space = guestSpace(request.pose)
  const nextSpace = guestSpace(request.nextPose)
  const corners: number[][] = []
  for (const x of [-0.76, 0.76])
    for (const z of [-0.76, 0.76])
      for (const y of [-0.02, 1.35, 1.9]) corners.push(toWorld(space, y > 1.5 ? x * 0.4 : x, y, y > 1.5 ? z * 0.4 : z))
  if (request.pose.kind === 'bell') corners.push([bellPlace.x, 2.75, bellPlace.z])
  const window = boundsOf(corners, request, overscanOf(request.frame), 3)
  const count = window.width * window.height
  const passes: GuestPasses = {
    window,
    alpha: new Float32Array(count),
    light: lightPasses.map(() => new Float32Array(count * 3)),
    depth: new Float32Array(count),
    normal: new Float32Array(count * 3),
    facing: new Float32Array(count),
    motion: new Float32Array(count * 2),
  }
  const ray: Ray = { ox: eye.x, oy: eye.y, oz: eye.z, dx: 0, dy: 0, dz: 0 }
  const hit = newGuestHit()
  const sample = new Float64Array(15)
  const sum = new Float64Array(15)
  const p: Projected = { x: 0, y: 0, depth: 0 }
  const q: Projected = { x: 0, y: 0, depth: 0 }
  for (let row = 0; row < window.height; row++) {
    for (let column = 0; column < window.width; column++) {
      sum.fill(0)
      let covered = 0
      let taken = 0
      let nearest = Infinity
      const at = row * window.width + column
      const take = (side: number, salt: number) => {
        for (let s = 0; s < side * side; s++) {
          const seed = hash3(window.x + column, window.y + row, s * 7 + salt)
          const px = window.x + column + ((s % side) + (seed & 255) / 256) / side
          const py = window.y + row + (Math.floor(s / side) + ((seed >> 8) & 255) / 256) / side
          taken++
          aim(ray, px, py, request.lens, request.rotation)
          castGuest(ray, space, hit, true)
          if (hit.t === Infinity) continue
          covered++
          shadeGuest(ray, hit, request.shot, seed, request.pose.lift, sample)
          for (let i = 0; i < 15; i++) sum[i] += sample[i]
          if (hit.t >= nearest) continue
          nearest = hit.t
          const world = toWorld(space, hit.lx, hit.ly, hit.lz)
          project(world[0], world[1], world[2], request.lens, request.rotation, p)
          const next = toWorld(nextSpace, hit.lx, hit.ly, hit.lz)
          project(next[0], next[1], next[2], request.lens, request.nextRotation, q)
          passes.depth[at] = p.depth
          passes.motion[at * 2] = q.x - p.x
          passes.motion[at * 2 + 1] = q.y - p.y
          passes.normal.set([hit.nx, hit.ny, hit.nz], at * 3)
          passes.facing[at] = Math.max(0, -(hit.nx * ray.dx + hit.ny * ray.dy + hit.nz * ray.dz))
        }
      }
      take(2, 1)
      // Edges get twenty samples, the inside of the guest eight, empty pixels of the window four.
      if (covered > 0) take(covered === taken ? 2 : 4, 1001)
      if (covered === 0) continue
      passes.alpha[at] = covered / taken
      for (let k = 0; k < 5; k++) for (let c = 0; c < 3; c++) passes.light[k][at * 3 + c] = sum[k * 3 + c] / taken
    }
  }
  return passes
}

/** Seen from above: does a line from (x, z) along (dx, dz) come within a metre of the guest? */
function passesGuest(x: number, z: number, dx: number, dz: number): boolean {
  const toX = bellPlace.x - x
  const toZ = bellPlace.z - z
  const along = (toX * dx + toZ * dz) / Math.hypot(dx, dz)
  return along > 0 && toX * toX + toZ * toZ - along * along < 1
}

/** Whether the guest can darken the ground at (x, z). */
function withinReach(x: number, z: number): boolean {
  if ((bellPlace.x - x) ** 2 + (bellPlace.z - z) ** 2 < 4.5) return true
  return lamps.some((lamp) => passesGuest(x, z, lamp.x - x, lamp.z - z))
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
const firstLook = 3
const mostSamples = 8

/** Aims at a place inside a pixel; @returns whether the quay's stones are there */
function aimAtGround({ request, ray }: GroundLook, px: number, py: number): boolean {
  aim(ray, px, py, request.lens, request.rotation)
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
  const reach = 2.6
  const corners: number[][] = []
  for (const x of [-reach, reach * 0.9])
    for (const z of [-1.4, 3.4]) corners.push([bellPlace.x + x, 0, bellPlace.z + z])
  const window = boundsOf(corners, request, overscanOf(request.frame), 2)
  const count = window.width * window.height
  const look: GroundLook = {
    request,
    space: guestSpace(request.pose),
    window,
    ray: { ox: eye.x, oy: eye.y, oz: eye.z, dx: 0, dy: 0, dz: 0 },
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
    shadow: enlarge(coarse.shadow, 1),
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
  if (!aimAtGround(look, x + 0.5, y + 0.5) || !passesGuest(onGround.x, onGround.z, ray.dx, ray.dz)) return
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
    const n = 1 / Math.hypot(bounce.dx, bounce.dy, bounce.dz)
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
    shadow: new Float32Array(width * height),
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
      if (!aimAtGround(look, x + 0.5, y + 0.5) || !withinReach(onGround.x, onGround.z)) continue
      let [lit, blocked, open, skyShare, found] = [0, 0, 0, 0, 0]
      const withGuest = [0, 0, 0]
      const without = [0, 0, 0]
      for (let s = 0; s < mostSamples && (s < 2 || blocked > 0); s++) {
        const seed = hash3(x, y, 7000 + s)
        if (!aimAtGround(look, x + 2 * sampleOffset(s, seed, 0) - 0.5, y + 2 * sampleOffset(s, seed, 1) - 0.5)) continue
        found++
        lightGround(ray, onGround, request.shot, seed, blocker, ground)
        const away = Math.hypot(onGround.x - space.px, onGround.z - space.pz)
        const lift = Math.max(0, request.pose.lift)
        const gap = Math.hypot(Math.max(0, away - 0.66), lift)
        const share = 1 - (away < 0.7 && lift < 0.02 ? 0.95 : 0.78 * Math.exp(-gap * 2.6))
        skyShare += share
        for (let c = 0; c < 3; c++) {
          lit += ground.direct[c]
          blocked += ground.directBlocked[c]
          open += ground.indirect[c]
          without[c] += ground.direct[c] + ground.directBlocked[c] + ground.indirect[c]
          withGuest[c] += ground.direct[c] + ground.indirect[c] * share
        }
      }
      if (found === 0) continue
      const at = row * width + column
      out.shadow[at] = blocked > 0 ? blocked / (lit + blocked + 0.35 * open) : 0
      out.occlusion[at] = skyShare / found
      for (let c = 0; c < 3; c++) out.ratio[at * 3 + c] = without[c] > 0 ? withGuest[c] / without[c] : 1
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
