/** Pixels of the engine as planes of a file, with samples of the file's type. */

import type { Engine } from '../../core/engine/engine'
import type { Step } from '../../core/graph/steps'
import { floatBitsToHalf } from '../../core/image/half'
import type { Plane } from '../../core/image/planes'
import { pixelCount, type Window } from '../../core/image/window'
import type { PictureStore } from './picture-store'

export interface Clamped {
  readonly planes: readonly Plane[]
  /** values that the samples cannot hold */
  readonly clamped: number
}

/** The largest half float. */
const largestHalf = 65504
const largestHalfBits = 0x7bff

interface HowRendered {
  readonly signal?: AbortSignal
  readonly store?: PictureStore
}

/** Red, green and blue as half floats: the usual way, without floats in between. */
export async function halvesOf(
  engine: Engine,
  picture: Step,
  window: Window,
  { signal, store }: HowRendered,
): Promise<Clamped> {
  const count = pixelCount(window)
  const key = `${picture.key} ${window.width}x${window.height}`
  const found = await store?.get(key, count * 3)
  const halves = found ?? (await engine.halves(picture, window, { signal, once: true }))
  if (!found) await store?.set(key, halves)
  const planes = ['R', 'G', 'B'].map((name, c) => ({
    name,
    type: 'half' as const,
    samples: halves.subarray(c * count, (c + 1) * count),
  }))
  // Only where some value stands at the limit is it worth looking how many were beyond it.
  const atLimit = halves.some((bits) => (bits & 0x7fff) === largestHalfBits)
  return { planes, clamped: atLimit ? await beyondHalf(engine, picture, window, signal) : 0 }
}

async function beyondHalf(engine: Engine, picture: Step, window: Window, signal?: AbortSignal): Promise<number> {
  const light = await engine.light(picture, window, { signal, once: true })
  let count = 0
  for (let i = 0; i < light.length; i++) {
    const value = Math.abs(light[i])
    if (i % 4 !== 3 && value > largestHalf && value < Infinity) count++
  }
  return count
}

/** @param first channel of the pixels that the first name is of */
export function planesOf(
  light: Float32Array<ArrayBuffer>,
  count: number,
  names: readonly string[],
  first = 0,
): (Plane & { readonly samples: Float32Array })[] {
  // Copied as words: a float array may change the bits of what is no number.
  const words = new Uint32Array(light.buffer)
  return names.map((name, c) => {
    const samples = new Uint32Array(count)
    for (let i = 0, at = first + c; i < count; i++, at += 4) samples[i] = words[at]
    return { name, type: 'float' as const, samples: new Float32Array(samples.buffer) }
  })
}

/** @param to halves, or shares of the largest code value */
export function clampedPlanes(
  planes: readonly { readonly name: string; readonly samples: Float32Array }[],
  to: 'half' | 'codes',
): Clamped {
  let clamped = 0
  const made = planes.map(({ name, samples }): Plane => {
    if (to === 'codes') {
      for (let i = 0; i < samples.length; i++) {
        const value = samples[i]
        if (value >= 0 && value <= 1) continue
        // What rounds to the outermost code values fits.
        if (!(value > -tolerance && value < 1 + tolerance)) clamped++
        samples[i] = value > 0 ? 1 : 0
      }
      return { name, type: 'float', samples }
    }
    const bits = new Uint32Array(samples.buffer, samples.byteOffset, samples.length)
    const halves = new Uint16Array(samples.length)
    for (let i = 0; i < halves.length; i++) {
      const size = Math.abs(samples[i])
      const beyond = size > largestHalf && size < Infinity
      if (beyond) clamped++
      halves[i] = beyond ? (samples[i] < 0 ? 0x8000 : 0) | largestHalfBits : floatBitsToHalf(bits[i])
    }
    return { name, type: 'half', samples: halves }
  })
  return { planes: made, clamped }
}

const tolerance = 1e-4
