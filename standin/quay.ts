/** The quay at dusk: what stands there, what it is made of, and how it is lit. Metres; y up; the camera looks along -z. */

import { fractalNoise, random3, valueNoise } from './noise'
import { castTree, solidTree, type Box } from './solid-tree'
import { near, type Ray, type Solid } from './solids'

export const material = {
  iron: 0,
  rope: 1,
  paint: 2,
  wood: 3,
  shed: 4,
  hull: 5,
  mast: 6,
  lampWarm: 7,
  lampCool: 8,
  grey: 9,
  chart: 10,
} as const

export interface Lamp {
  readonly x: number
  readonly y: number
  readonly z: number
  readonly radius: number
  /** power per channel: irradiance at 1 m */
  readonly power: readonly [number, number, number]
}

export const lamps: readonly [Lamp, Lamp] = [
  { x: -2.9, y: 3.0, z: -10.2, radius: 0.13, power: [9.5, 5.2, 1.9] },
  { x: 3.55, y: 2.85, z: -11.6, radius: 0.12, power: [3.6, 5.6, 8.2] },
]

export const quayEdge = -13
export const waterLevel = -1.05
export const bellPlace = { x: 0.3, z: -8 }
const mistColour: readonly number[] = [0.118, 0.138, 0.178]
const mistDensity = 0.017

function box(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number, m: number): Solid {
  return { kind: 'box', min: [x0, y0, z0], max: [x1, y1, z1], material: m }
}
function bar(a: readonly number[], b: readonly number[], radius: number, m: number): Solid {
  return { kind: 'capsule', a, b, radius, material: m }
}

function craneSolids(): Solid[] {
  const solids: Solid[] = [box(3.0, 0, -8.35, 3.5, 0.35, -7.75, material.iron)]
  const red = material.paint
  for (const [x, z] of [
    [3.08, -8.22],
    [3.42, -8.22],
    [3.08, -7.88],
    [3.42, -7.88],
  ])
    solids.push(bar([x, 0.3, z], [x, 4.2, z], 0.035, red))
  for (let i = 0; i < 7; i++) {
    const y = 0.4 + i * 0.52
    solids.push(
      bar([3.08, y, -7.88], [3.42, y + 0.52, -7.88], 0.018, red),
      bar([3.08, y + 0.52, -8.22], [3.42, y, -8.22], 0.018, red),
    )
  }
  for (const [y, z] of [
    [2.78, -7.88],
    [2.78, -8.12],
    [3.1, -8.0],
  ])
    solids.push(bar([-0.15, y + 0.02, z], [3.4, y, z], 0.032, red))
  for (let i = 0; i < 9; i++) {
    const x = -0.1 + i * 0.38
    solids.push(
      bar([x, 2.79, -7.88], [x + 0.19, 3.1, -8.0], 0.014, red),
      bar([x + 0.19, 3.1, -8.0], [x + 0.38, 2.79, -7.88], 0.014, red),
    )
  }
  solids.push({ kind: 'sphere', centre: [bellPlace.x, 2.7, -8], radius: 0.1, material: material.iron })
  return solids
}

function frontSolids(): Solid[] {
  const solids: Solid[] = [
    { kind: 'cylinder', centre: [-0.42, 0, -5.6], radius: 0.25, height: 0.06, material: material.iron },
    { kind: 'cylinder', centre: [-0.42, 0, -5.6], radius: 0.15, height: 0.62, material: material.iron },
    { kind: 'cylinder', centre: [-0.42, 0.6, -5.6], radius: 0.21, height: 0.1, material: material.iron },
    { kind: 'sphere', centre: [-0.42, 0.6, -5.6], radius: 0.215, material: material.iron },
  ]
  for (let turn = 0; turn < 3; turn++) {
    const y = 0.36 + turn * 0.055
    const steps = 14
    const point = (k: number) => [
      -0.42 + 0.185 * Math.cos((k * 2 * Math.PI) / steps),
      y + (0.05 * k) / steps,
      -5.6 + 0.185 * Math.sin((k * 2 * Math.PI) / steps),
    ]
    for (let k = 0; k < steps; k++) solids.push(bar(point(k), point(k + 1), 0.028, material.rope))
  }
  const pieces = 22
  const sag = (k: number) => {
    const s = k / pieces
    return [-0.27 + 4.4 * s, 0.5 + 0.42 * s - 0.62 * s * (1 - s), -5.5 + 0.75 * s]
  }
  for (let k = 0; k < pieces; k++) solids.push(bar(sag(k), sag(k + 1), 0.03, material.rope))
  return solids
}

function lampSolids(): Solid[] {
  return lamps.flatMap((lamp, i): Solid[] => [
    {
      kind: 'sphere',
      centre: [lamp.x, lamp.y, lamp.z],
      radius: lamp.radius,
      material: i === 0 ? material.lampWarm : material.lampCool,
    },
    bar([lamp.x + 0.32, 0, lamp.z], [lamp.x + 0.32, lamp.y + 0.3, lamp.z], 0.045, material.iron),
    bar([lamp.x + 0.32, lamp.y + 0.3, lamp.z], [lamp.x, lamp.y + 0.24, lamp.z], 0.028, material.iron),
    { kind: 'cylinder', centre: [lamp.x, lamp.y + 0.13, lamp.z], radius: 0.17, height: 0.05, material: material.iron },
  ])
}

function stackSolids(): Solid[] {
  return [
    box(-3.75, 0, -9.0, -3.05, 0.62, -8.3, material.wood),
    box(-3.55, 0.62, -8.9, -3.0, 1.1, -8.4, material.wood),
    { kind: 'cylinder', centre: [-2.55, 0, -8.75], radius: 0.27, height: 0.82, material: material.wood },
    { kind: 'cylinder', centre: [-4.1, 0, -10.4], radius: 0.3, height: 0.85, material: material.wood },
  ]
}

function boatSolids(): Solid[] {
  const solids: Solid[] = []
  for (const [x, z, tall, lean] of [
    [-9.5, -27, 6.4, 0.16],
    [-4.6, -33, 7.6, -0.1],
    [6.9, -30, 6.9, 0.12],
    [12.4, -38, 8.4, -0.2],
    [0.9, -44, 8.0, 0.1],
    [-16, -42, 8.2, 0.1],
  ]) {
    solids.push(bar([x - 2.2, waterLevel + 0.3, z], [x + 2.0, waterLevel + 0.42, z], 0.62, material.hull))
    solids.push(box(x - 0.7, waterLevel + 0.8, z - 0.4, x + 0.5, waterLevel + 1.7, z + 0.4, material.shed))
    solids.push(bar([x, waterLevel, z], [x + lean, waterLevel + tall, z], 0.07, material.mast))
    solids.push(bar([x + 0.05, waterLevel + 1.9, z], [x + 2.0, waterLevel + 2.6, z], 0.05, material.mast))
    solids.push(bar([x + lean, waterLevel + tall, z], [x - 2.5, waterLevel + 0.9, z], 0.014, material.mast))
    solids.push(bar([x + lean, waterLevel + tall, z], [x + 2.3, waterLevel + 0.9, z], 0.014, material.mast))
  }
  return solids
}

function shoreSolids(): Solid[] {
  const solids: Solid[] = [box(-90, waterLevel - 1, -80, 90, waterLevel + 0.9, -62, material.shed)]
  const row: readonly (readonly number[])[] = [
    [-44, 11, 4.6, 7.2],
    [-31, 9, 5.4, 8.0],
    [-20, 12, 3.9, 6.3],
    [-6, 7, 5.8, 8.8],
    [3, 13, 4.3, 6.9],
    [18, 8, 6.4, 9.2],
    [28, 12, 4.4, 7.0],
    [42, 14, 5.2, 8.0],
  ]
  for (const [x, width, wall, ridge] of row)
    solids.push({
      kind: 'gable',
      min: [x, waterLevel, -74],
      max: [x + width, wall, -64],
      ridge,
      material: material.shed,
    })
  solids.push(box(14.6, 0, -70, 15.6, 13, -69, material.shed), box(-9, 0, -72, -8.2, 11, -71.2, material.shed))
  return solids
}

function boundsOf(solid: Solid): Box {
  switch (solid.kind) {
    case 'box':
      return { min: [...solid.min], max: [...solid.max] }
    case 'gable':
      return {
        min: solid.min.map((v, i) => (i === 1 ? v : v - 0.4)),
        max: [solid.max[0] + 0.4, solid.ridge, solid.max[2] + 0.4],
      }
    case 'sphere':
      return { min: solid.centre.map((v) => v - solid.radius), max: solid.centre.map((v) => v + solid.radius) }
    case 'cylinder':
      return {
        min: [solid.centre[0] - solid.radius, solid.centre[1], solid.centre[2] - solid.radius],
        max: [solid.centre[0] + solid.radius, solid.centre[1] + solid.height, solid.centre[2] + solid.radius],
      }
    case 'capsule':
      return {
        min: solid.a.map((v, i) => Math.min(v, solid.b[i]) - solid.radius),
        max: solid.a.map((v, i) => Math.max(v, solid.b[i]) + solid.radius),
      }
  }
}

const onQuay = solidTree([...craneSolids(), ...stackSolids()], boundsOf)
const everything = solidTree(
  [...craneSolids(), ...stackSolids(), ...lampSolids(), ...boatSolids(), ...shoreSolids()],
  boundsOf,
)
const front = solidTree(frontSolids(), boundsOf)

export interface Hit {
  t: number
  x: number
  y: number
  z: number
  nx: number
  ny: number
  nz: number
  /** a material, or one of the two planes */
  what: number | 'ground' | 'water' | 'sky'
  solid: Solid | null
}

export function newHit(): Hit {
  return { t: Infinity, x: 0, y: 0, z: 0, nx: 0, ny: 0, nz: 0, what: 'sky', solid: null }
}

/** Finds what a ray meets first. `withFront` false leaves out the bollard and the rope (the clean plate). */
export function cast(ray: Ray, hit: Hit, withFront: boolean): void {
  hit.t = Infinity
  hit.what = 'sky'
  hit.solid = null
  if (ray.dy < 0) {
    const ground = -ray.oy / ray.dy
    const z = ray.oz + ground * ray.dz
    if (ground > near && z > quayEdge) {
      hit.t = ground
      hit.what = 'ground'
    } else {
      const water = (waterLevel - ray.oy) / ray.dy
      if (water > near) {
        hit.t = water
        hit.what = 'water'
      }
    }
    hit.nx = 0
    hit.ny = 1
    hit.nz = 0
  }
  if (withFront) castTree(ray, front, hit, false)
  castTree(ray, everything, hit, false)
  const { solid } = hit as { readonly solid: Solid | null }
  if (solid) hit.what = solid.material
  if (hit.t < Infinity) {
    hit.x = ray.ox + hit.t * ray.dx
    hit.y = ray.oy + hit.t * ray.dy
    hit.z = ray.oz + hit.t * ray.dz
  }
}

const probe = newHit()

/** Nearest thing in front only: the bollard and the rope. */
export function castFront(ray: Ray): number {
  probe.t = Infinity
  castTree(ray, front, probe, false)
  return probe.t
}

export function isBlocked(ray: Ray, distance: number, withFront: boolean): boolean {
  probe.t = distance
  probe.solid = null
  castTree(ray, onQuay, probe, true)
  if (!probe.solid && withFront) castTree(ray, front, probe, true)
  return probe.solid !== null
}

/** The sky at dusk, out to the mist. */
export function sky(dx: number, dy: number, dz: number, out: Float64Array): void {
  const up = Math.max(0, dy)
  const warmth = Math.exp(-up * 7) * (0.65 + 0.35 * Math.exp(-((dx + 0.35) ** 2) * 5))
  const cloud = up > 0.002 ? fractalNoise((dx / (up + 0.16)) * 1.4, (dz / (up + 0.16)) * 0.8, 3.1, 4) : 0.5
  const band = (cloud - 0.5) * 0.55 * Math.min(1, up * 9)
  out[0] = (0.072 + 0.2 * warmth) * (1 + band)
  out[1] = (0.092 + 0.118 * warmth) * (1 + band * 0.9)
  out[2] = (0.138 + 0.062 * warmth) * (1 + band * 0.7)
  addMist(out, up > 0.001 ? Math.min(120, 9 / up) : 120)
}

export function addMist(out: Float64Array, distance: number): void {
  const t = Math.exp(-mistDensity * Math.max(0, distance - 9))
  for (let c = 0; c < 3; c++) out[c] = out[c] * t + mistColour[c] * (1 - t)
}

export interface Stone {
  readonly albedo: Float64Array
  wet: number
  nx: number
  nz: number
}

/** Setts in staggered rows with dark joints, worn tops, and water standing where the noise is low. */
export function stoneAt(x: number, z: number, stone: Stone): void {
  const coping = z < quayEdge + 0.75
  const rowDepth = coping ? 0.75 : 0.3
  const row = Math.floor((coping ? z - quayEdge : z) / rowDepth)
  const length = coping ? 1.5 : 0.52
  const shift = random3(row, 7, 1) * length
  const column = Math.floor((x + shift) / length)
  const u = (x + shift) / length - column
  const v = (coping ? z - quayEdge : z) / rowDepth - row
  const wobble = (valueNoise(x * 6, z * 6, 2) - 0.5) * 0.03
  const edge = Math.min(Math.min(u, 1 - u) * length, Math.min(v, 1 - v) * rowDepth) + wobble
  const joint = 1 - Math.min(1, Math.max(0, (edge - 0.008) / 0.02))
  const tone = 0.55 + 0.75 * random3(column, row, 3)
  const fine = fractalNoise(x * 22, z * 22, 0, 3)
  const coarse = fractalNoise(x * 2.3, z * 2.3, 5, 3)
  const warm = random3(column, row, 9)
  const value = 0.125 * tone * (0.55 + 0.9 * fine) * (0.7 + 0.6 * coarse) * (1 - 0.8 * joint)
  stone.albedo[0] = value * (1 + 0.12 * warm)
  stone.albedo[1] = value * 0.98
  stone.albedo[2] = value * (0.98 - 0.1 * warm)
  const puddle = fractalNoise(x * 0.75 + 4, z * 0.75, 9, 3)
  stone.wet = Math.min(1, Math.max(0.12, (0.53 - puddle) * 9 + 0.3 * joint))
  const rough = (1 - 0.93 * stone.wet) * 0.5
  stone.nx = (valueNoise(x * 16, z * 16, 21) - 0.5) * rough + (u < 0.5 ? -1 : 1) * joint * 0.12 * (1 - stone.wet)
  stone.nz = (valueNoise(x * 16, z * 16, 31) - 0.5) * rough + (v < 0.5 ? -1 : 1) * joint * 0.12 * (1 - stone.wet)
}
