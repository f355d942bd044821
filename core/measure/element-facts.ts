/** What is measured of an element's picture on one frame, so that frames can be compared with each other. */

import type { Window } from '../image/window'
import { centreOfCoverage } from './centre-of-coverage'

export type Triple = readonly [number, number, number]

export interface ElementFacts {
  /** pixels that it covers wholly */
  readonly covered: number
  /** mean light of its darkest tenth, and of all that it covers wholly; null where that is too little */
  readonly black: Triple | null
  readonly mean: Triple | null
  /** energy of differences of neighbours over that of pixels four apart */
  readonly fine: number | null
  /** the middle of its coverage, and how much that is in pixels */
  readonly centre: { readonly x: number; readonly y: number } | null
  readonly area: number
  /** the same light, the same text */
  readonly print: string
}

const wholly = 0.98
const fewest = 50
const farther = 4

/** @param light premultiplied RGBA of the window */
export function elementFacts(light: Float32Array, window: Window): ElementFacts {
  const { width, height } = window
  const pixels = width * height
  const lumas: number[] = []
  const places: number[] = []
  let area = 0
  for (let i = 0; i < pixels; i++) {
    const alpha = light[4 * i + 3]
    if (alpha > 0) area += Math.min(1, alpha)
    const luma = light[4 * i] + light[4 * i + 1] + light[4 * i + 2]
    if (!(alpha >= wholly) || !Number.isFinite(luma)) continue
    places.push(i)
    lumas.push(luma)
  }
  const enough = places.length >= fewest
  const limit = enough ? Float64Array.from(lumas).sort()[Math.floor(places.length / 10)] : 0
  const dark = places.filter((_, k) => lumas[k] <= limit)
  return {
    covered: places.length,
    black: enough ? meanOf(light, dark) : null,
    mean: enough ? meanOf(light, places) : null,
    fine: enough ? fineness(light, width, height) : null,
    centre: centreOfCoverage(light, window),
    area,
    print: printOf(light),
  }
}

function meanOf(light: Float32Array, places: readonly number[]): Triple {
  const sum = [0, 0, 0]
  for (const i of places) for (let c = 0; c < 3; c++) sum[c] += light[4 * i + c] / light[4 * i + 3]
  return [sum[0] / places.length, sum[1] / places.length, sum[2] / places.length]
}

/** Of brightness, where five pixels in a row are covered wholly; across and down together. */
function fineness(light: Float32Array, width: number, height: number): number | null {
  let [near, far, count] = [0, 0, 0]
  const at = (i: number) => light[4 * i] + light[4 * i + 1] + light[4 * i + 2]
  const solid = (i: number) => light[4 * i + 3] >= wholly
  const half = farther / 2
  for (let y = half; y + half < height; y++)
    for (let x = half; x + half < width; x++) {
      const i = y * width + x
      for (const step of [1, width]) {
        const [first, last] = [i - half * step, i + half * step]
        if (!solid(i) || !solid(first) || !solid(last) || !solid(i - step) || !solid(i + step)) continue
        const [before, here, after] = [at(i - step), at(i), at(i + step)]
        const apart = at(last) - at(first)
        if (!Number.isFinite(before + here + after + apart)) continue
        near += (here - before) ** 2 + (after - here) ** 2
        far += apart * apart
        count++
      }
    }
  return count >= fewest && far > 0 ? near / far : null
}

/** FNV-1a of the bits of every value (Fowler, Noll, Vo), twice with different beginnings. */
function printOf(light: Float32Array): string {
  const bits = new Uint32Array(light.buffer, light.byteOffset, light.length)
  let [a, b] = [0x811c9dc5, 0x5bd1e995]
  for (let i = 0; i < bits.length; i++) {
    a = Math.imul(a ^ bits[i], 0x01000193)
    b = Math.imul(b ^ (bits[i] >>> 7) ^ (bits[i] << 3), 0x01000193)
  }
  return (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0')
}

/**
 * How much darker a shadow makes the plate, per unit of its matte: the slope through zero of what is taken away against what the
 * matte has in the same channel, all channels together. A matte in colour says little in a channel that its lamps are weak in, and
 * so that channel counts for little.
 *
 * @param counts which pixels are looked at
 * @returns null where the matte is too little
 */
export function shadowDepth(
  composite: Float32Array,
  plate: Float32Array,
  matte: Float32Array,
  counts: (pixel: number) => boolean,
): number | null {
  let [across, squares, count] = [0, 0, 0]
  for (let i = 0; 4 * i < matte.length; i++) {
    if (!(Math.max(matte[4 * i], matte[4 * i + 1], matte[4 * i + 2]) > 0.1) || !counts(i)) continue
    count++
    for (let c = 4 * i; c < 4 * i + 3; c++) {
      const taken = matte[c] * plate[c]
      const off = plate[c] - composite[c]
      if (!Number.isFinite(off) || !Number.isFinite(taken)) continue
      across += taken * off
      squares += taken * taken
    }
  }
  return count < fewest || !(squares > 0) ? null : across / squares
}

/**
 * How far an outline is beyond what lies on both sides of it: below 0 a dark line, above a light one. What noise puts beyond
 * them is the same on both ends, and cancels.
 *
 * @param cover the element's own picture
 * @returns of brightness, as a share of that of both sides; null where there is no outline
 */
export function outlineExcess(
  composite: Float32Array,
  cover: Float32Array,
  { width, height }: Pick<Window, 'width' | 'height'>,
): number | null {
  const reach = 3
  const luma = (i: number) => composite[4 * i] + composite[4 * i + 1] + composite[4 * i + 2]
  const alpha = (i: number) => cover[4 * i + 3]
  let [excess, level, count] = [0, 0, 0]
  for (let y = reach; y + reach < height; y++)
    for (let x = reach; x + reach < width; x++) {
      const i = y * width + x
      const a = alpha(i)
      if (!(a > 0.2 && a < 0.8)) continue
      for (const step of [1, width]) {
        const [before, after] = [i - reach * step, i + reach * step]
        const [inner, outer] = alpha(before) > alpha(after) ? [before, after] : [after, before]
        if (!(alpha(inner) >= wholly) || !(alpha(outer) <= 1 - wholly)) continue
        const [own, one, other] = [luma(i), luma(inner), luma(outer)]
        if (!Number.isFinite(own + one + other)) continue
        excess += Math.max(0, own - Math.max(one, other)) - Math.max(0, Math.min(one, other) - own)
        level += (luma(inner) + luma(outer)) / 2
        count++
      }
    }
  return count >= fewest && level > 0 ? excess / level : null
}
