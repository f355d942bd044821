/** The render farm: the guest's own passes, clean, sharp and undistorted. */

import type { Window } from '../core/image/window'
import { castGuest, finishAt, guestSpace, newFinish, newGuestHit, toWorld, type GuestPose } from './bell'
import { aim, project, type Frame, type Projected, type View } from './camera'
import { fifthPower, newLampLight, sampleLamp, skyLight, specularLobe, type Shot } from './light'
import { hash3, random3 } from './noise'
import { sky } from './quay'
import { lengthOf, type Ray } from './solids'

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

export interface PassRequest {
  readonly frame: Frame
  readonly view: View
  readonly nextView: View
  readonly pose: GuestPose
  readonly nextPose: GuestPose
  readonly shot: Shot
}

const rgbOut = new Float64Array(3)
const skyOut = new Float64Array(3)
const lampLight = newLampLight()
const finish = newFinish()

/** The window that the points fall into, with a margin, cut to the overscan. */
export function boundsOf(
  points: readonly (readonly number[])[],
  request: PassRequest,
  overscan: Window,
  margin: number,
): Window {
  const p: Projected = { x: 0, y: 0, depth: 0 }
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const [x, y, z] of points) {
    project(x, y, z, request.view, p)
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
export function shadeGuest(
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
      hit.nx,
      hit.ny,
      hit.nz,
      random3(seed, i, 11),
      random3(seed, i, 12),
      shot,
      null,
      lampLight,
    )
    const nl = lampLight.facing
    if (nl <= 0 || lampLight.blockedByQuay) continue
    const hx = lampLight.lx - ray.dx
    const hy = lampLight.ly - ray.dy
    const hz = lampLight.lz - ray.dz
    const hl = lengthOf(hx, hy, hz)
    const vh = Math.max(0, -(hx * ray.dx + hy * ray.dy + hz * ray.dz) / hl)
    const lobe = specularLobe(nl, nv, (hit.nx * hx + hit.ny * hy + hit.nz * hz) / hl, finish.roughness)
    for (let c = 0; c < 3; c++) {
      const e = lampLight.irradiance[c] * nl
      const fresnel = finish.f0[c] + (1 - finish.f0[c]) * fifthPower(1 - vh)
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
  const n = 1 / lengthOf(rx, ry, rz)
  rx *= n
  ry *= n
  rz *= n
  around(rx, ry, rz, x, y, z, rgbOut)
  const edge = fifthPower(1 - nv) * (1 - finish.roughness)
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

/** Samples agree when the brightest is brighter than the darkest by no more than this share. */
const agree = 0.05

export function renderGuest(request: PassRequest): GuestPasses {
  const space = guestSpace(request.pose)
  const nextSpace = guestSpace(request.nextPose)
  const corners: number[][] = []
  for (const x of [-0.76, 0.76])
    for (const z of [-0.76, 0.76])
      for (const y of [-0.02, 1.35, 1.9]) corners.push(toWorld(space, y > 1.5 ? x * 0.4 : x, y, y > 1.5 ? z * 0.4 : z))
  const { hook } = request.pose
  if (request.pose.kind === 'bell') corners.push([hook.x, hook.y + 0.05, hook.z])
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
  const ray: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
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
      let least = Infinity
      let most = 0
      const at = row * window.width + column
      const take = (side: number, salt: number) => {
        for (let s = 0; s < side * side; s++) {
          const seed = hash3(window.x + column, window.y + row, s * 7 + salt)
          const px = window.x + column + ((s % side) + (seed & 255) / 256) / side
          const py = window.y + row + (Math.floor(s / side) + ((seed >> 8) & 255) / 256) / side
          taken++
          aim(ray, px, py, request.view)
          castGuest(ray, space, hit, true)
          if (hit.t === Infinity) continue
          covered++
          shadeGuest(ray, hit, request.shot, seed, request.pose.lift, sample)
          let light = 0
          for (let i = 0; i < 15; i++) {
            sum[i] += sample[i]
            light += sample[i]
          }
          if (light < least) least = light
          if (light > most) most = light
          if (hit.t >= nearest) continue
          nearest = hit.t
          const world = toWorld(space, hit.lx, hit.ly, hit.lz)
          project(world[0], world[1], world[2], request.view, p)
          const next = toWorld(nextSpace, hit.lx, hit.ly, hit.lz)
          project(next[0], next[1], next[2], request.nextView, q)
          passes.depth[at] = p.depth
          passes.motion[at * 2] = q.x - p.x
          passes.motion[at * 2 + 1] = q.y - p.y
          passes.normal.set([hit.nx, hit.ny, hit.nz], at * 3)
          passes.facing[at] = Math.max(0, -(hit.nx * ray.dx + hit.ny * ray.dy + hit.nz * ray.dz))
        }
      }
      take(2, 1)
      // Edges get twenty samples, the inside of the guest eight where the first four do not agree, empty pixels four.
      if (covered > 0 && covered < taken) take(4, 1001)
      else if (most - least > agree * most) take(2, 1001)
      if (covered === 0) continue
      passes.alpha[at] = covered / taken
      for (let k = 0; k < 5; k++) for (let c = 0; c < 3; c++) passes.light[k][at * 3 + c] = sum[k * 3 + c] / taken
    }
  }
  return passes
}
