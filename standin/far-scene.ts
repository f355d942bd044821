/**
 * The quay without guests, rendered once, larger than the frame, and re-aimed for every frame of the sway.
 *
 * The camera only turns, so re-aiming is exact. Water is kept apart: its coverage is part of the rendering, its look is
 * made anew for every frame.
 */

import { aim, eye, restPitch, rotationOf, turnedView, type Lens } from './camera'
import { shade, type Shot } from './light'
import { hash3 } from './noise'
import { cast, newHit } from './quay'
import type { Ray } from './solids'

export interface FarScene {
  readonly width: number
  readonly height: number
  readonly lens: Lens
  /** r, g, b of everything but water, times its coverage; then the coverage of water */
  readonly pixels: Float32Array
}

const samplesPerSide = 3
const waterSamples = 2
/** The cells of a pixel, its middle and corners first: where those agree, as in sky and mist, the others are spared. */
const cells = [4, 0, 8, 2, 6, 1, 3, 5, 7] as const
const firstLook = 5
const agree = 0.02

/** Same pixels per degree as the frame, with a margin for sway, distortion and filters. */
export function farSceneSize(frame: { width: number; height: number }): { width: number; height: number } {
  return { width: Math.ceil(frame.width * 1.1), height: Math.ceil(frame.height * 1.12) }
}

export function farSceneLens(size: { width: number; height: number }, lens: Lens): Lens {
  return { ...lens, centreX: size.width / 2, centreY: size.height / 2 }
}

const farScenePose = { yaw: 0, pitch: restPitch, roll: 0 }
export const farSceneRotation = rotationOf(farScenePose)
const farSceneView = ({ lens }: FarScene) => turnedView(lens, farScenePose)

/** Renders rows `first..last-1` in place. */
export function renderFarRows(scene: FarScene, first: number, last: number, shot: Shot): void {
  const view = farSceneView(scene)
  const ray: Ray = { ox: eye.x, oy: eye.y, oz: eye.z, dx: 0, dy: 0, dz: 0 }
  const hit = newHit()
  const rgb = new Float64Array(3)
  const n = samplesPerSide
  for (let y = first; y < last; y++) {
    for (let x = 0; x < scene.width; x++) {
      let r = 0
      let g = 0
      let b = 0
      let water = 0
      let least = Infinity
      let most = 0
      let taken = 0
      for (const s of cells) {
        if (taken === firstLook && water === 0 && most - least <= agree * most) break
        taken++
        const seed = hash3(x, y, s)
        const jx = ((s % n) + (seed & 255) / 256) / n
        const jy = (Math.floor(s / n) + ((seed >> 8) & 255) / 256) / n
        aim(ray, x + jx, y + jy, view)
        cast(ray, hit, shot.withFront)
        if (hit.what === 'water') {
          water++
          continue
        }
        shade(ray, hit, shot, seed, 0, rgb)
        r += rgb[0]
        g += rgb[1]
        b += rgb[2]
        const sum = rgb[0] + rgb[1] + rgb[2]
        if (sum < least) least = sum
        if (sum > most) most = sum
      }
      const at = (y * scene.width + x) * 4
      const weight = 1 / taken
      scene.pixels[at] = r * weight
      scene.pixels[at + 1] = g * weight
      scene.pixels[at + 2] = b * weight
      scene.pixels[at + 3] = water * weight
    }
  }
}

/** @returns r, g, b of the whole scene with the water of that moment */
export function withWater(scene: FarScene, shot: Shot): Float32Array {
  const view = farSceneView(scene)
  const ray: Ray = { ox: eye.x, oy: eye.y, oz: eye.z, dx: 0, dy: 0, dz: 0 }
  const hit = newHit()
  const rgb = new Float64Array(3)
  const out = new Float32Array(scene.width * scene.height * 3)
  for (let y = 0; y < scene.height; y++) {
    for (let x = 0; x < scene.width; x++) {
      const at = y * scene.width + x
      const water = scene.pixels[at * 4 + 3]
      let r = 0
      let g = 0
      let b = 0
      let found = 0
      for (let s = 0; water > 0 && s < waterSamples * 3 && found < waterSamples; s++) {
        const seed = hash3(x, y, 1000 + s)
        aim(ray, x + (seed & 255) / 256, y + ((seed >> 8) & 255) / 256, view)
        cast(ray, hit, shot.withFront)
        if (hit.what !== 'water') continue
        shade(ray, hit, shot, seed, 0, rgb)
        r += rgb[0]
        g += rgb[1]
        b += rgb[2]
        found++
      }
      const weight = found > 0 ? water / found : 0
      out[at * 3] = scene.pixels[at * 4] + r * weight
      out[at * 3 + 1] = scene.pixels[at * 4 + 1] + g * weight
      out[at * 3 + 2] = scene.pixels[at * 4 + 2] + b * weight
    }
  }
  return out
}
