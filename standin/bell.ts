/** The guests: the brass diving bell, and the grey ball and colour chart that stand in its place for reference. */

import { fractalNoise, valueNoise } from './noise'
import type { Place } from './camera'
import { bellPlace } from './quay'
import { lengthOf, hitBox, hitSphere, near, normal, type Ray } from './solids'

export type GuestKind = 'bell' | 'ball' | 'chart'

/** Where the guest is: its foot above the stones and its swing about the crane's hook. */
export interface GuestPose {
  readonly kind: GuestKind
  /** what it hangs from */
  readonly hook: Place
  readonly lift: number
  /** radians about the hook, sideways and to the camera */
  readonly swingX: number
  readonly swingZ: number
  readonly turn: number
}

export const bellHeight = 1.9
/** The crane's hook, above the place where the bell comes down. */
export const craneHook: Place = { x: bellPlace.x, y: 2.7, z: bellPlace.z }

/** Coming down, swinging less and less, and at rest on the stones from about frame 30 on. */
export function bellPoseAt(index: number): GuestPose {
  const t = index / 24
  const down = Math.min(1, t / 1.25)
  const lift = 0.34 * (1 - down * down * (3 - 2 * down))
  const free = Math.max(0, 1 - t / 1.35) ** 1.3
  return {
    kind: 'bell',
    hook: craneHook,
    lift,
    swingX: 0.07 * free * Math.sin(4.1 * t + 0.6),
    swingZ: 0.035 * free * Math.sin(3.7 * t),
    turn: 0.3 + 0.22 * (1 - down),
  }
}

export interface GuestHit {
  t: number
  /** world normal */
  nx: number
  ny: number
  nz: number
  /** place on the guest in its own space */
  lx: number
  ly: number
  lz: number
  part: 'brass' | 'glass' | 'chain' | 'grey' | 'patch'
}

export function newGuestHit(): GuestHit {
  return { t: Infinity, nx: 0, ny: 0, nz: 0, lx: 0, ly: 0, lz: 0, part: 'brass' }
}

interface Cone {
  readonly r0: number
  readonly y0: number
  readonly r1: number
  readonly y1: number
}

/** The bell's outline from rim to collar, as cones about its axis. */
const cones: readonly Cone[] = [
  { r0: 0.72, y0: 0, r1: 0.72, y1: 0.1 },
  { r0: 0.72, y0: 0.1, r1: 0.675, y1: 0.14 },
  { r0: 0.675, y0: 0.14, r1: 0.645, y1: 0.56 },
  { r0: 0.645, y0: 0.56, r1: 0.668, y1: 0.575 },
  { r0: 0.668, y0: 0.575, r1: 0.664, y1: 0.665 },
  { r0: 0.664, y0: 0.665, r1: 0.638, y1: 0.68 },
  { r0: 0.638, y0: 0.68, r1: 0.605, y1: 1.12 },
  { r0: 0.605, y0: 1.12, r1: 0.632, y1: 1.14 },
  { r0: 0.632, y0: 1.14, r1: 0.628, y1: 1.24 },
  { r0: 0.628, y0: 1.24, r1: 0.598, y1: 1.255 },
  { r0: 0.21, y0: 1.66, r1: 0.21, y1: 1.74 },
  { r0: 0.21, y0: 1.74, r1: 0.1, y1: 1.79 },
  { r0: 0.1, y0: 1.79, r1: 0.07, y1: 1.9 },
]
const dome = { y: 1.25, radius: 0.6, height: 0.46 }
const portHeight = 0.9
const portAngles = [0.15, 1.72, 3.29, 4.86]

/** World to guest: the guest hangs by the hook and turns about its own axis. */
export interface GuestSpace {
  readonly pose: GuestPose
  readonly m: Float64Array
  readonly px: number
  readonly py: number
  readonly pz: number
}

export function guestSpace(pose: GuestPose): GuestSpace {
  const [cx, sx] = [Math.cos(pose.swingX), Math.sin(pose.swingX)]
  const [cz, sz] = [Math.cos(pose.swingZ), Math.sin(pose.swingZ)]
  const [ct, st] = [Math.cos(pose.turn), Math.sin(pose.turn)]
  // columns: the guest's axes in the world
  const up = [sx, cx * cz, cx * sz]
  const side = [cx, -sx * cz, -sx * sz]
  const front = [0, -sz, cz]
  const m = new Float64Array(9)
  for (let i = 0; i < 3; i++) {
    m[i * 3] = side[i] * ct - front[i] * st
    m[i * 3 + 1] = up[i]
    m[i * 3 + 2] = side[i] * st + front[i] * ct
  }
  const { hook } = pose
  const rope = hook.y - pose.lift
  return { pose, m, px: hook.x - up[0] * rope, py: hook.y - up[1] * rope, pz: hook.z - up[2] * rope }
}

const local: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }

function toLocal(ray: Ray, space: GuestSpace): void {
  const { m } = space
  const x = ray.ox - space.px
  const y = ray.oy - space.py
  const z = ray.oz - space.pz
  local.ox = m[0] * x + m[3] * y + m[6] * z
  local.oy = m[1] * x + m[4] * y + m[7] * z
  local.oz = m[2] * x + m[5] * y + m[8] * z
  local.dx = m[0] * ray.dx + m[3] * ray.dy + m[6] * ray.dz
  local.dy = m[1] * ray.dx + m[4] * ray.dy + m[7] * ray.dz
  local.dz = m[2] * ray.dx + m[5] * ray.dy + m[8] * ray.dz
}

/** From a place on the guest to the world. */
export function toWorld(space: GuestSpace, x: number, y: number, z: number): [number, number, number] {
  const { m } = space
  return [
    m[0] * x + m[1] * y + m[2] * z + space.px,
    m[3] * x + m[4] * y + m[5] * z + space.py,
    m[6] * x + m[7] * y + m[8] * z + space.pz,
  ]
}

let bx = 0
let by = 0
let bz = 0

/** Squared distance between the ray and the axis, times the squared length of the ray's direction seen from above. */
function axisGap(): number {
  return (local.ox * local.dz - local.oz * local.dx) ** 2
}

function hitCones(limit: number): number {
  let best = limit
  // Inside the widest radius the ray passes only some heights; cones at others cannot be met.
  const across = local.dx * local.dx + local.dz * local.dz
  const middle = -(local.ox * local.dx + local.oz * local.dz) / across
  const half = Math.sqrt(Math.max(0, 0.5329 - axisGap() / across) / across)
  const ya = local.oy + (middle - half) * local.dy
  const yb = local.oy + (middle + half) * local.dy
  const lowest = Math.min(ya, yb)
  const highest = Math.max(ya, yb)
  for (const { r0, y0, r1, y1 } of cones) {
    if (y1 < lowest || y0 > highest) continue
    const k = (r1 - r0) / (y1 - y0)
    const r = r0 + k * (local.oy - y0)
    const a = local.dx * local.dx + local.dz * local.dz - k * k * local.dy * local.dy
    const b = local.ox * local.dx + local.oz * local.dz - k * r * local.dy
    const c = local.ox * local.ox + local.oz * local.oz - r * r
    const d = b * b - a * c
    if (d < 0) continue
    const t = (-b - Math.sqrt(d)) / a
    if (!(t > near && t < best)) continue
    const y = local.oy + t * local.dy
    if (y < y0 || y > y1) continue
    best = t
    const x = local.ox + t * local.dx
    const z = local.oz + t * local.dz
    const radius = lengthOf(x, z)
    const n = 1 / lengthOf(1, k)
    bx = (x / radius) * n
    by = -k * n
    bz = (z / radius) * n
  }
  return best
}

function hitDome(limit: number): number {
  const scale = dome.radius / dome.height
  const oy = (local.oy - dome.y) * scale
  const dy = local.dy * scale
  const a = local.dx * local.dx + dy * dy + local.dz * local.dz
  const b = local.ox * local.dx + oy * dy + local.oz * local.dz
  const c = local.ox * local.ox + oy * oy + local.oz * local.oz - dome.radius * dome.radius
  const d = b * b - a * c
  if (d < 0) return limit
  const t = (-b - Math.sqrt(d)) / a
  if (!(t > near && t < limit) || local.oy + t * local.dy < dome.y) return limit
  const x = local.ox + t * local.dx
  const y = (oy + t * dy) * scale
  const z = local.oz + t * local.dz
  const n = 1 / lengthOf(x, y, z)
  bx = x * n
  by = y * n
  bz = z * n
  return t
}

/** Links above the collar, turned a quarter from one to the next. */
function hitChain(limit: number, top: number): number {
  const radial = local.dx * local.dx + local.dz * local.dz
  const closest = Math.abs(local.ox * local.dz - local.oz * local.dx) / Math.sqrt(radial)
  if (closest > 0.06) return limit
  let best = limit
  for (let link = 0; bellHeight + link * 0.085 < top; link++) {
    const y = bellHeight + 0.045 + link * 0.085
    const flat = link % 2 === 0
    for (const side of [-1, 1]) {
      const x = flat ? side * 0.032 : 0
      const z = flat ? 0 : side * 0.032
      for (const offset of [-0.03, 0, 0.03]) {
        const t = hitSphere(local, x, y + offset, z, 0.018)
        if (t < best) {
          best = t
          bx = normal.x
          by = normal.y
          bz = normal.z
        }
      }
    }
  }
  return best
}

/** Rivets, port rings and dents as a tilt of the normal; they are too small to change the outline. */
function detail(hit: GuestHit): void {
  const angle = Math.atan2(hit.lx, hit.lz)
  const radius = lengthOf(hit.lx, hit.lz)
  const tilt = (across: number, up: number, strength: number) => {
    bx += strength * (across * Math.cos(angle))
    bz -= strength * (across * Math.sin(angle))
    by += strength * up
  }
  const dent = (k: number) => valueNoise(hit.lx * 9 + k, hit.ly * 9, hit.lz * 9) - 0.5
  tilt(dent(0), dent(40), 0.07)
  for (const row of [0.05, 0.62, 1.19]) {
    const around = 34
    const step = (2 * Math.PI) / around
    const a = (angle / step - Math.round(angle / step)) * step * radius
    const y = hit.ly - row
    const d = lengthOf(a, y) / 0.021
    if (d < 1) tilt((a / 0.021) * 0.9, (y / 0.021) * 0.9, 1)
  }
  if (hit.ly > 0.14 && hit.ly < 1.14) {
    const seams = 8
    const step = (2 * Math.PI) / seams
    const a = (angle / step - Math.round(angle / step)) * step * radius
    if (Math.abs(a) < 0.006) tilt(a > 0 ? 0.8 : -0.8, 0, 1)
    const y = ((hit.ly / 0.088) % 1) * 0.088 - 0.044
    for (const side of [-0.035, 0.035]) {
      const d = lengthOf(a - side, y) / 0.014
      if (d < 1) tilt(((a - side) / 0.014) * 0.9, (y / 0.014) * 0.9, 1)
    }
  }
  if (hit.ly > 1.3) {
    const around = 20
    const step = (2 * Math.PI) / around
    const a = (angle / step - Math.round(angle / step)) * step * radius
    const y = hit.ly - 1.33
    const d = lengthOf(a, y) / 0.018
    if (d < 1) tilt((a / 0.018) * 0.9, (y / 0.018) * 0.9, 1)
  }
  for (const port of portAngles) {
    let turn = angle - port
    turn -= Math.round(turn / (2 * Math.PI)) * 2 * Math.PI
    const a = turn * radius
    const y = hit.ly - portHeight
    const d = lengthOf(a, y)
    if (d > 0.2) continue
    if (d < 0.115) {
      hit.part = 'glass'
      tilt((a / 0.115) * -0.25, (y / 0.115) * -0.25, 1)
    } else {
      const bevel = Math.sin(((d - 0.115) / 0.085) * Math.PI * 2 - Math.PI / 2)
      tilt((a / d) * bevel * 0.75, (y / d) * bevel * 0.75, 1)
      const bolt = Math.round((Math.atan2(y, a) / (2 * Math.PI)) * 10) * ((2 * Math.PI) / 10)
      const ba = a - 0.158 * Math.cos(bolt)
      const bb = y - 0.158 * Math.sin(bolt)
      if (lengthOf(ba, bb) < 0.016) tilt((ba / 0.016) * 0.9, (bb / 0.016) * 0.9, 1)
    }
  }
}

function finish(t: number, space: GuestSpace, hit: GuestHit): void {
  hit.t = t
  const n = 1 / lengthOf(bx, by, bz)
  const { m } = space
  hit.nx = (m[0] * bx + m[1] * by + m[2] * bz) * n
  hit.ny = (m[3] * bx + m[4] * by + m[5] * bz) * n
  hit.nz = (m[6] * bx + m[7] * by + m[8] * bz) * n
}

const boundsCentre = 1.15

/** Finds the guest along a ray; `hit.t` is Infinity where it is missed. `fine` adds the small relief. */
export function castGuest(ray: Ray, space: GuestSpace, hit: GuestHit, fine: boolean): void {
  hit.t = Infinity
  toLocal(ray, space)
  const { kind } = space.pose
  if (kind === 'ball') {
    const t = hitSphere(local, 0, 0.55, 0, 0.3)
    if (t === Infinity) return
    bx = normal.x
    by = normal.y
    bz = normal.z
    hit.part = 'grey'
    locate(t, hit)
    return finish(t, space, hit)
  }
  if (kind === 'chart') {
    const t = hitBox(local, [-0.48, 0.2, -0.02], [0.48, 0.88, 0.02])
    if (t === Infinity) return
    bx = normal.x
    by = normal.y
    bz = normal.z
    hit.part = 'patch'
    locate(t, hit)
    return finish(t, space, hit)
  }
  if (axisGap() > 0.5329 * (local.dx * local.dx + local.dz * local.dz)) return
  if (hitSphere(local, 0, boundsCentre, 0, 1.65) === Infinity) return
  let best = hitCones(Infinity)
  best = hitDome(best)
  hit.part = 'brass'
  const chain = hitChain(best, space.pose.hook.y - space.pose.lift)
  if (chain < best) {
    best = chain
    hit.part = 'chain'
  }
  if (best === Infinity) return
  locate(best, hit)
  if (fine && hit.part === 'brass') detail(hit)
  finish(best, space, hit)
}

function locate(t: number, hit: GuestHit): void {
  hit.lx = local.ox + t * local.dx
  hit.ly = local.oy + t * local.dy
  hit.lz = local.oz + t * local.dz
}

/** Twenty-four flat patches, made up: six greys, then hues at two strengths. */
export function chartPatch(column: number, row: number): [number, number, number] {
  if (row === 3) {
    const grey = [0.9, 0.59, 0.36, 0.18, 0.09, 0.031][column]
    return [grey, grey, grey]
  }
  const hue = (column / 6 + row / 18) * 2 * Math.PI
  const strength = [0.28, 0.75, 0.5][row]
  const level = [0.34, 0.26, 0.12][row]
  const wave = (phase: number) => level * (1 + strength * Math.cos(hue - phase))
  return [wave(0), wave((2 * Math.PI) / 3), wave((4 * Math.PI) / 3)]
}

export interface Finish {
  readonly diffuse: Float64Array
  readonly f0: Float64Array
  roughness: number
  readonly glow: Float64Array
}

export function newFinish(): Finish {
  return { diffuse: new Float64Array(3), f0: new Float64Array(3), roughness: 0.4, glow: new Float64Array(3) }
}

function put(target: Float64Array, r: number, g: number, b: number): void {
  target[0] = r
  target[1] = g
  target[2] = b
}

/** What the guest is made of where it was hit. */
export function finishAt(hit: GuestHit, found: Finish): void {
  put(found.glow, 0, 0, 0)
  if (hit.part === 'grey' || hit.part === 'patch') {
    const inside = hit.part === 'patch' && Math.abs(hit.lx) < 0.45 && hit.ly > 0.23 && hit.ly < 0.85
    const u = ((hit.lx + 0.45) / 0.9) * 6
    const v = ((0.85 - hit.ly) / 0.62) * 4
    const gap = inside && (u % 1 < 0.06 || u % 1 > 0.94 || v % 1 < 0.06 || v % 1 > 0.94)
    const colour =
      hit.part === 'grey'
        ? [0.18, 0.18, 0.18]
        : inside && !gap
          ? chartPatch(Math.floor(u), Math.floor(v))
          : [0.02, 0.02, 0.02]
    put(found.diffuse, colour[0], colour[1], colour[2])
    put(found.f0, 0, 0, 0)
    found.roughness = 1
    return
  }
  if (hit.part === 'glass') {
    const a = Math.abs(hit.ly - portHeight)
    put(found.diffuse, 0.004, 0.006, 0.006)
    put(found.f0, 0.06, 0.06, 0.06)
    found.roughness = 0.08
    const lamp = 0.55 + 0.45 * Math.cos(a * 16)
    put(found.glow, 0.42 * lamp, 0.235 * lamp, 0.07 * lamp)
    return
  }
  if (hit.part === 'chain') {
    put(found.diffuse, 0.03, 0.026, 0.022)
    put(found.f0, 0.16, 0.14, 0.12)
    found.roughness = 0.5
    return
  }
  const cloud = fractalNoise(hit.lx * 3.1, hit.ly * 3.1, hit.lz * 3.1, 4)
  const fine = fractalNoise(hit.lx * 19, hit.ly * 11, hit.lz * 19, 3)
  const low = Math.max(0, 1 - hit.ly / 0.35)
  const tarnish = Math.min(1, Math.max(0, (cloud - 0.42) * 3.2) + low * 0.4)
  const verdigris = Math.min(1, Math.max(0, (fine - 0.6) * 6)) * Math.min(1, tarnish + 0.15)
  const rust =
    Math.min(1, Math.max(0, (fractalNoise(hit.lx * 7 + 9, hit.ly * 2.2, hit.lz * 7, 3) - 0.6) * 6)) * (0.3 + low)
  const metal = (1 - 0.72 * tarnish) * (1 - 0.8 * verdigris) * (1 - 0.75 * rust)
  put(found.f0, 0.78 * metal + 0.03, 0.53 * metal + 0.03, 0.22 * metal + 0.03)
  put(
    found.diffuse,
    0.03 + 0.05 * tarnish + 0.03 * verdigris + 0.12 * rust,
    0.02 + 0.036 * tarnish + 0.12 * verdigris + 0.045 * rust,
    0.008 + 0.018 * tarnish + 0.095 * verdigris + 0.014 * rust,
  )
  found.roughness = Math.min(0.9, 0.24 + 0.22 * fine + 0.25 * tarnish + 0.2 * rust)
}
