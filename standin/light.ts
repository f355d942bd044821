/** How the quay looks along a ray: lamps with soft shadows, sky light, wet stone, moving water, mist. */

import { fractalNoise, random3, valueNoise } from './noise'
import { addMist, cast, isBlocked, lamps, material, newHit, sky, stoneAt, type Hit, type Stone } from './quay'
import { lengthOf, type Ray } from './solids'

export interface Shot {
  /** seconds, moves the water */
  readonly time: number
  readonly withFront: boolean
  /** brightness of the two lamps, around 1 */
  readonly lampLevels: readonly [number, number]
}

/** Brightness of the two lamps on frame `index`: they flicker a little. */
export function lampLevelsAt(index: number): [number, number] {
  return [1 + 0.035 * Math.sin(index * 0.41) + 0.015 * Math.sin(index * 1.7), 1 + 0.01 * Math.sin(index * 0.23 + 1)]
}

/** How much stray light there is, around 1: it drifts with the first lamp. */
export function veilLevelAt(index: number): number {
  return (lampLevelsAt(index)[0] + 1) / 2
}

const shadowRay: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }

/** A thing that is not of the quay and may stand in the light of a lamp. */
export type Blocker = (ray: Ray, distance: number) => boolean

export interface LampLight {
  /** unit vector to the sampled point of the lamp */
  lx: number
  ly: number
  lz: number
  /** irradiance per channel on a surface facing the lamp */
  readonly irradiance: Float64Array
  /** cosine between the surface's normal and the light; where it is 0 or less, nothing below is known */
  facing: number
  blockedByQuay: boolean
  /** by the thing that is not of the quay */
  blockedByGuest: boolean
}

export function newLampLight(): LampLight {
  return {
    lx: 0,
    ly: 0,
    lz: 0,
    irradiance: new Float64Array(3),
    facing: 0,
    blockedByQuay: false,
    blockedByGuest: false,
  }
}

/** Samples one lamp from a point of a surface with the normal `n`; `u`, `v` in 0..1 choose the point on the lamp. */
export function sampleLamp(
  i: 0 | 1,
  px: number,
  py: number,
  pz: number,
  nx: number,
  ny: number,
  nz: number,
  u: number,
  v: number,
  shot: Shot,
  guest: Blocker | null,
  light: LampLight,
): void {
  const lamp = lamps[i]
  const angle = 2 * Math.PI * u
  const height = 2 * v - 1
  const ring = Math.sqrt(1 - height * height) * lamp.radius
  const x = lamp.x + ring * Math.cos(angle) - px
  const y = lamp.y + height * lamp.radius - py
  const z = lamp.z + ring * Math.sin(angle) - pz
  const distance = lengthOf(x, y, z)
  light.lx = x / distance
  light.ly = y / distance
  light.lz = z / distance
  light.facing = nx * light.lx + ny * light.ly + nz * light.lz
  if (light.facing <= 0) return
  const falloff = shot.lampLevels[i] / (distance * distance)
  for (let c = 0; c < 3; c++) light.irradiance[c] = lamp.power[c] * falloff
  shadowRay.ox = px
  shadowRay.oy = py
  shadowRay.oz = pz
  shadowRay.dx = light.lx
  shadowRay.dy = light.ly
  shadowRay.dz = light.lz
  const reach = distance - lamp.radius * 2.2
  light.blockedByQuay = isBlocked(shadowRay, reach, shot.withFront)
  light.blockedByGuest = !light.blockedByQuay && guest !== null && guest(shadowRay, reach)
}

/** Schlick's approximation rises with the fifth power. */
export function fifthPower(value: number): number {
  const square = value * value
  return square * square * value
}

/** GGX lobe times visibility, without Fresnel (Walter et al. 2007), for unit vectors. */
export function specularLobe(nl: number, nv: number, nh: number, roughness: number): number {
  if (nl <= 0 || nv <= 0) return 0
  const a2 = roughness * roughness * roughness * roughness
  const d = nh * nh * (a2 - 1) + 1
  const k = roughness * roughness * 0.5
  return a2 / (Math.PI * d * d) / (4 * (nl * (1 - k) + k) * (nv * (1 - k) + k))
}

const albedo = new Float64Array(3)

function surface(hit: Hit): { roughness: number; f0: number } {
  const m = hit.what
  const grain = fractalNoise(hit.x * 9, hit.y * 9, hit.z * 9, 3)
  const set = (r: number, g: number, b: number) => {
    albedo[0] = r
    albedo[1] = g
    albedo[2] = b
  }
  if (m === material.iron) {
    const rust = Math.max(0, grain - 0.42) * 2.4
    set(0.022 + 0.14 * rust, 0.021 + 0.06 * rust, 0.021 + 0.025 * rust)
    return { roughness: 0.42 + 0.3 * rust, f0: 0.09 }
  }
  if (m === material.rope) {
    const twist = 0.5 + 0.5 * Math.sin((hit.x * 0.9 + hit.y * 1.7) * 95 + hit.z * 30)
    const v = 0.13 + 0.15 * twist
    set(v * 1.08, v * 0.9, v * 0.62)
    return { roughness: 0.85, f0: 0.02 }
  }
  if (m === material.paint) {
    const worn = grain > 0.6 ? 0.45 : 1
    set(0.17 * worn, 0.043 * worn + 0.01, 0.03 * worn + 0.008)
    return { roughness: 0.5, f0: 0.05 }
  }
  if (m === material.wood) {
    const board = 0.6 + 0.4 * valueNoise(hit.x * 3, hit.y * 13, hit.z * 3)
    const gap = hit.y % 0.155 < 0.014 ? 0.25 : 1
    set(0.15 * board * gap, 0.1 * board * gap, 0.062 * board * gap)
    return { roughness: 0.8, f0: 0.03 }
  }
  if (m === material.hull) set(0.05, 0.07, 0.1)
  else if (m === material.mast) set(0.09, 0.075, 0.055)
  else if (m === material.grey) set(0.18, 0.18, 0.18)
  else {
    const board = 0.75 + 0.35 * valueNoise(Math.floor(hit.x * 2.5), hit.y * 0.4, 3)
    set(0.062 * board, 0.056 * board, 0.052 * board)
  }
  return { roughness: 0.75, f0: 0.03 }
}

const light = newLampLight()
const reflected = new Float64Array(3)
const reflectedHit = newHit()
const reflectedRay: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
const stone: Stone = { albedo: new Float64Array(3), wet: 0, nx: 0, nz: 0 }
const ambient = new Float64Array(3)

/** Sky light on a surface facing (.., ny, ..). */
export function skyLight(ny: number, out: Float64Array): void {
  const up = 0.5 + 0.5 * ny
  out[0] = 0.045 + 0.115 * up
  out[1] = 0.045 + 0.12 * up
  out[2] = 0.05 + 0.15 * up
}

/** Radiance of the quay along a ray whose hit is known. `seed` keys the random choices of this sample. */
export function shade(ray: Ray, hit: Hit, shot: Shot, seed: number, depth: number, out: Float64Array): void {
  if (hit.what === 'sky') return sky(ray.dx, ray.dy, ray.dz, out)
  if (hit.what === 'ground') return shadeGround(ray, hit, shot, seed, depth, out)
  if (hit.what === 'water') return shadeWater(ray, hit, shot, seed, depth, out)
  if (hit.what === material.lampWarm || hit.what === material.lampCool) {
    const lamp = lamps[hit.what === material.lampWarm ? 0 : 1]
    const level = shot.lampLevels[hit.what === material.lampWarm ? 0 : 1]
    for (let c = 0; c < 3; c++) out[c] = lamp.power[c] * level * 3.2
    return
  }
  const distant = hit.z < -20
  const { roughness, f0 } = surface(hit)
  skyLight(hit.ny, ambient)
  for (let c = 0; c < 3; c++) out[c] = albedo[c] * ambient[c] * 1.1
  if (distant) lightWindows(hit, out)
  else addLamps(ray, hit.x, hit.y, hit.z, hit.nx, hit.ny, hit.nz, albedo, roughness, f0, shot, seed, out)
  addMist(out, hit.t)
}

/** A few panes of the sheds across the water are lit. */
function lightWindows(hit: Hit, out: Float64Array): void {
  if (hit.what !== material.shed || hit.nz < 0.9 || hit.z > -50) return
  const column = Math.floor(hit.x / 1.9)
  const row = Math.floor(hit.y / 2.1)
  const inPane =
    hit.x / 1.9 - column > 0.36 && hit.x / 1.9 - column < 0.62 && hit.y / 2.1 - row > 0.35 && hit.y / 2.1 - row < 0.7
  if (!inPane || hit.y < 0.2 || random3(column, row, 77) > 0.24) return
  const glow = 0.6 + 1.1 * random3(column, row, 5)
  out[0] += 1.7 * glow
  out[1] += 1.0 * glow
  out[2] += 0.36 * glow
}

function addLamps(
  ray: Ray,
  x: number,
  y: number,
  z: number,
  nx: number,
  ny: number,
  nz: number,
  base: Float64Array,
  roughness: number,
  f0: number,
  shot: Shot,
  seed: number,
  out: Float64Array,
): void {
  for (const i of [0, 1] as const) {
    sampleLamp(
      i,
      x + nx * 1e-3,
      y + ny * 1e-3,
      z + nz * 1e-3,
      nx,
      ny,
      nz,
      random3(seed, i, 11),
      random3(seed, i, 12),
      shot,
      null,
      light,
    )
    const nl = light.facing
    if (nl <= 0 || light.blockedByQuay) continue
    let hx = light.lx - ray.dx
    let hy = light.ly - ray.dy
    let hz = light.lz - ray.dz
    const length = lengthOf(hx, hy, hz)
    hx /= length
    hy /= length
    hz /= length
    const nv = -(nx * ray.dx + ny * ray.dy + nz * ray.dz)
    const vh = -(hx * ray.dx + hy * ray.dy + hz * ray.dz)
    const fresnel = f0 + (1 - f0) * fifthPower(1 - vh)
    const lobe = specularLobe(nl, nv, nx * hx + ny * hy + nz * hz, roughness) * fresnel
    for (let c = 0; c < 3; c++) out[c] += light.irradiance[c] * nl * (base[c] / Math.PI + lobe)
  }
}

/** What one lamp does to a patch of stone, with and without the guest in its light. */
export interface GroundLight {
  readonly direct: Float64Array
  readonly directBlocked: Float64Array
  readonly indirect: Float64Array
  readonly mirrored: Float64Array
  fresnel: number
  nx: number
  ny: number
  nz: number
  wet: number
}

export function newGroundLight(): GroundLight {
  const rgb = () => new Float64Array(3)
  return {
    direct: rgb(),
    directBlocked: rgb(),
    indirect: rgb(),
    mirrored: rgb(),
    fresnel: 0,
    nx: 0,
    ny: 1,
    nz: 0,
    wet: 0,
  }
}

/** The stone's slope, wetness and Fresnel share at a point of the ground. */
export function wetGround(ray: Ray, hit: Pick<Hit, 'x' | 'z'>, found: GroundLight): void {
  stoneAt(hit.x, hit.z, stone)
  const length = lengthOf(stone.nx, 1, stone.nz)
  found.nx = stone.nx / length
  found.ny = 1 / length
  found.nz = stone.nz / length
  found.wet = stone.wet
  const nv = Math.max(1e-3, -(found.nx * ray.dx + found.ny * ray.dy + found.nz * ray.dz))
  found.fresnel = (0.025 + 0.975 * fifthPower(1 - nv)) * (0.06 + 0.8 * stone.wet)
}

/** Light at a point of the ground by where it comes from; the mirrored part is left to the caller. */
export function lightGround(
  ray: Ray,
  hit: Pick<Hit, 'x' | 'z'>,
  shot: Shot,
  seed: number,
  guest: Blocker | null,
  found: GroundLight,
): void {
  wetGround(ray, hit, found)
  const { nx, ny, nz } = found
  const roughness = 0.62 - 0.42 * stone.wet
  const dark = 1 - 0.35 * stone.wet
  skyLight(ny, ambient)
  for (let c = 0; c < 3; c++) {
    found.indirect[c] = stone.albedo[c] * dark * ambient[c] * 1.1
    found.direct[c] = 0
    found.directBlocked[c] = 0
  }
  const nv = Math.max(1e-3, -(nx * ray.dx + ny * ray.dy + nz * ray.dz))
  for (const i of [0, 1] as const) {
    sampleLamp(i, hit.x, 2e-3, hit.z, nx, ny, nz, random3(seed, i, 11), random3(seed, i, 12), shot, guest, light)
    const nl = light.facing
    if (nl <= 0 || light.blockedByQuay) continue
    const hx = light.lx - ray.dx
    const hy = light.ly - ray.dy
    const hz = light.lz - ray.dz
    const hl = lengthOf(hx, hy, hz)
    const vh = -(hx * ray.dx + hy * ray.dy + hz * ray.dz) / hl
    const lobe =
      specularLobe(nl, nv, (nx * hx + ny * hy + nz * hz) / hl, roughness) * (0.025 + 0.975 * fifthPower(1 - vh))
    for (let c = 0; c < 3; c++) {
      const value = light.irradiance[c] * nl * ((stone.albedo[c] * dark) / Math.PI + Math.min(lobe, 40))
      if (light.blockedByGuest) found.directBlocked[c] += value
      else found.direct[c] += value
    }
  }
}

/** A thing that is not of the quay, as its stones see it. */
export interface GuestOverStones {
  readonly blocks: Blocker
  /** share of the sky's light that still reaches the ground there */
  skyShare(x: number, z: number): number
  /** @returns whether a ray meets it nearer than `distance`; then its light is in `out` */
  mirrored(ray: Ray, distance: number, seed: number, out: Float64Array): boolean
}

const groundLight = newGroundLight()

function mirror(ray: Ray, x: number, y: number, z: number, nx: number, ny: number, nz: number): void {
  const k = 2 * (nx * ray.dx + ny * ray.dy + nz * ray.dz)
  reflectedRay.ox = x
  reflectedRay.oy = y + 1e-3
  reflectedRay.oz = z
  reflectedRay.dx = ray.dx - k * nx
  reflectedRay.dy = Math.abs(ray.dy - k * ny)
  reflectedRay.dz = ray.dz - k * nz
}

/** The stones along a ray, with or without the guest over them. */
export function shadeGround(
  ray: Ray,
  hit: Hit,
  shot: Shot,
  seed: number,
  depth: number,
  out: Float64Array,
  guest: GuestOverStones | null = null,
): void {
  lightGround(ray, hit, shot, seed, guest?.blocks ?? null, groundLight)
  const { fresnel, nx, ny, nz, wet } = groundLight
  const distance = hit.t
  const open = guest ? guest.skyShare(hit.x, hit.z) : 1
  for (let c = 0; c < 3; c++) out[c] = groundLight.direct[c] + groundLight.indirect[c] * open
  if (depth === 0 && fresnel > 0.004) {
    const spread = 0.02 + 0.1 * (1 - wet)
    mirror(
      ray,
      hit.x,
      hit.y,
      hit.z,
      nx + (random3(seed, 3, 1) - 0.5) * spread,
      ny,
      nz + (random3(seed, 3, 2) - 0.5) * spread,
    )
    cast(reflectedRay, reflectedHit, shot.withFront)
    if (!guest?.mirrored(reflectedRay, reflectedHit.t, seed, reflected))
      shade(reflectedRay, reflectedHit, shot, seed + 101, 1, reflected)
    for (let c = 0; c < 3; c++) out[c] += fresnel * Math.min(reflected[c], 6)
  }
  addMist(out, distance)
}

function shadeWater(ray: Ray, hit: Hit, shot: Shot, seed: number, depth: number, out: Float64Array): void {
  const { x, z, t: distance } = hit
  const time = shot.time
  const calm = Math.min(1, 26 / distance)
  let nx = 0
  let nz = 0
  for (let k = 0; k < 5; k++) {
    const angle = 0.7 + k * 1.21
    const frequency = 1.1 * 1.75 ** k
    const phase = (x * Math.cos(angle) + z * Math.sin(angle)) * frequency + time * Math.sqrt(9.8 * frequency)
    const slope = (0.035 / (1 + 0.25 * k)) * Math.cos(phase) * calm
    nx += slope * Math.cos(angle)
    nz += slope * Math.sin(angle)
  }
  const ny = 1
  const length = lengthOf(nx, ny, nz)
  const nv = Math.max(1e-3, -(nx * ray.dx + ny * ray.dy + nz * ray.dz) / length)
  const fresnel = 0.02 + 0.98 * fifthPower(1 - nv)
  out[0] = 0.012 * (1 - fresnel)
  out[1] = 0.021 * (1 - fresnel)
  out[2] = 0.027 * (1 - fresnel)
  mirror(ray, x, hit.y, z, nx / length, ny / length, nz / length)
  if (depth === 0) {
    cast(reflectedRay, reflectedHit, false)
    shade(reflectedRay, reflectedHit, shot, seed + 101, 1, reflected)
  } else sky(reflectedRay.dx, reflectedRay.dy, reflectedRay.dz, reflected)
  for (let c = 0; c < 3; c++) out[c] += fresnel * Math.min(reflected[c], 4)
  addMist(out, distance)
}
