/** Veil and gain of an element from photographs and renders of the same objects, every pixel of which lies on one line. */

import type { Window } from '../image/window'
import type { SharpAndSeen } from './nearest-softening'
import { unlikeOfSame } from './pair'
import type { Sure } from './propose'
import { ninetyPercent } from './students-t'
import { darkLight, usualTau } from './unlikeness'

/** A frame of an object, rendered (as soft as the photograph) and photographed. */
export interface ObjectSeen extends SharpAndSeen {
  /** where both lie in the plate */
  readonly window: Window
  readonly object: string
}

export interface LineOverPixels {
  readonly veil: readonly Sure[]
  readonly gain: readonly Sure[]
}

/** Covered so far around, in pixels, so that nothing of what is behind reaches in. */
const margin = 1
const covered = 0.999
/** Both may lie beside each other by so much, in pixels: where light changes fast a pixel tells less. */
const slip = 0.25
/** In pixels: what is unlike in one place is so on all frames, and in the pixels beside it. */
const place = 8
const fewestPlaces = 12
const rounds = 3
/** Of light 1: pictures that were computed may have none. */
const leastNoise = 1e-12
/** More places than any picture has across or down. */
const most = 65536

/**
 * Weighted least squares of `veil + gain * rendered` (each channel by itself). A pixel counts by its grain, which grows with the light, and by
 * how unlike it may be where light changes. How sure it is comes from what the line leaves in places of 8 x 8 pixels, over all frames
 * together (clustered errors: Liang and Zeger 1986), and from how unlike a thing and its render are.
 *
 * @param cell means of so many pixels across and down are compared
 * @returns null where too little of them is covered
 */
export function lineOverPixels(pictures: readonly ObjectSeen[], cell = 1): LineOverPixels | null {
  const objects = [...new Set(pictures.map(({ object }) => object))]
  const kept = pictures
    .map((picture) => inCells(picture, cell))
    .map((one) => ({ ...one, counting: countingIn(one), number: objects.indexOf(one.object) }))
  const lines = [0, 1, 2].map((c) => lineOf(kept, c))
  if (lines.some((line) => line === null)) return null
  const both = lines.flatMap((line) => line ?? [])
  return { veil: both.map(({ veil }) => veil), gain: both.map(({ gain }) => gain) }
}

/** Means of cells of the plate, whole ones only. */
function inCells({ sharp, seen, window, object }: ObjectSeen, cell: number): ObjectSeen {
  if (cell === 1) return { sharp, seen, window, object }
  const [left, top] = [Math.ceil(window.x / cell), Math.ceil(window.y / cell)]
  const width = Math.max(0, Math.floor((window.x + window.width) / cell) - left)
  const height = Math.max(0, Math.floor((window.y + window.height) / cell) - top)
  const means = (light: Float32Array) => {
    const out = new Float32Array(4 * width * height)
    for (let y = 0; y < cell * height; y++)
      for (let x = 0; x < cell * width; x++) {
        const from = 4 * ((top * cell - window.y + y) * window.width + left * cell - window.x + x)
        const to = 4 * (((y / cell) | 0) * width + ((x / cell) | 0))
        for (let c = 0; c < 4; c++) out[to + c] += light[from + c] / (cell * cell)
      }
    return out
  }
  return { sharp: means(sharp), seen: means(seen), window: { x: left, y: top, width, height }, object }
}

interface Kept extends ObjectSeen {
  readonly counting: Uint32Array
  /** of its object, among all */
  readonly number: number
}

/** Pixels that are covered and are numbers, as those beside them are. */
function countingIn({ sharp, seen, window: { width, height } }: ObjectSeen): Uint32Array {
  const { isFinite } = Number
  const sound = Uint8Array.from({ length: width * height }, (_, i) => {
    const at = 4 * i
    const sum = sharp[at] + sharp[at + 1] + sharp[at + 2] + seen[at] + seen[at + 1] + seen[at + 2]
    return sharp[at + 3] >= covered && isFinite(sum) ? 1 : 0
  })
  const found: number[] = []
  for (let y = margin; y < height - margin; y++)
    for (let x = margin; x < width - margin; x++) {
      let all = 1
      for (let dy = -margin; dy <= margin; dy++)
        for (let dx = -margin; dx <= margin; dx++) all &= sound[(y + dy) * width + x + dx]
      if (all === 1) found.push(y * width + x)
    }
  return Uint32Array.from(found)
}

/** Sums of weights, light, photograph and their products. */
interface Sums {
  w: number
  x: number
  y: number
  xx: number
  xy: number
}

function lineOf(pictures: readonly Kept[], c: number): { readonly veil: Sure; readonly gain: Sure } | null {
  let [veil, gain, noise] = [0, 1, 0]
  let weightAt: (x: number, steep: number) => number = () => 1
  for (let round = 0; round < rounds; round++) {
    const sums: Sums = { w: 0, x: 0, y: 0, xx: 0, xy: 0 }
    each(pictures, c, (x, y, steep) => {
      const w = weightAt(x, steep)
      sums.w += w
      sums.x += w * x
      sums.y += w * y
      sums.xx += w * x * x
      sums.xy += w * x * y
    })
    const spread = sums.w * sums.xx - sums.x * sums.x
    if (!(spread > 0)) return null
    gain = (sums.w * sums.xy - sums.x * sums.y) / spread
    veil = (sums.y - gain * sums.x) / sums.w
    const [v, g] = [veil, gain]
    let [left, lights] = [0, 0]
    each(pictures, c, (x, y) => {
      left += (y - v - g * x) ** 2
      lights += Math.max(0, v + g * x) + darkLight
    })
    noise = Math.max(left / lights, leastNoise)
    weightAt = (x, steep) => 1 / (noise * (Math.max(0, v + g * x) + darkLight) + (slip * g * steep) ** 2)
  }
  return sureOf(pictures, c, { veil, gain, weightAt })
}

interface Fitted {
  readonly veil: number
  readonly gain: number
  readonly weightAt: (x: number, steep: number) => number
}

function sureOf(pictures: readonly Kept[], c: number, { veil, gain, weightAt }: Fitted) {
  const places = new Map<number, [number, number]>()
  let [w, wx, wxx] = [0, 0, 0]
  each(pictures, c, (x, y, steep, at) => {
    const weight = weightAt(x, steep)
    w += weight
    wx += weight * x
    wxx += weight * x * x
    const left = weight * (y - veil - gain * x)
    const sum = places.get(at)
    if (sum) {
      sum[0] += left
      sum[1] += left * x
    } else places.set(at, [left, left * x])
  })
  const count = places.size
  if (count < fewestPlaces) return null
  const apart = w * wxx - wx * wx
  let [ofVeil, ofGain] = [0, 0]
  for (const [left, leftX] of places.values()) {
    ofVeil += ((wxx * left - wx * leftX) / apart) ** 2
    ofGain += ((w * leftX - wx * left) / apart) ** 2
  }
  const few = count / (count - 2)
  const reach = ninetyPercent(count - 2)
  // Of many materials the mean is less unlike than one of them.
  const unlike = (unlikeOfSame * usualTau) / 2
  const light = veil + (gain * wx) / w
  return {
    veil: { value: veil, bar: reach * Math.hypot(Math.sqrt(few * ofVeil), unlike * light) },
    gain: { value: gain, bar: reach * Math.hypot(Math.sqrt(few * ofGain), unlike * gain) },
  }
}

/** @param tell of each pixel: rendered, photographed, how much the rendered light changes from pixel to pixel, and the number of its place */
function each(
  pictures: readonly Kept[],
  c: number,
  tell: (x: number, y: number, steep: number, place: number) => void,
): void {
  for (const { sharp, seen, window, number, counting } of pictures) {
    const { width } = window
    for (const i of counting) {
      const at = 4 * i + c
      const across = (sharp[at + 4] - sharp[at - 4]) / 2
      const down = (sharp[at + 4 * width] - sharp[at - 4 * width]) / 2
      const column = ((window.x + (i % width)) / place) | 0
      const row = ((window.y + ((i / width) | 0)) / place) | 0
      tell(sharp[at], seen[at], Math.sqrt(across * across + down * down), (number * most + row) * most + column)
    }
  }
}
