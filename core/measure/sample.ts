/** Pixels taken from a picture on a regular grid: enough to judge it by, few enough to judge it many times over. */

import type { Planes } from '../image/planes'
import { halfTable } from '../kernels/half'

export interface PixelSample {
  readonly count: number
  /** code values as the file holds them */
  readonly red: Float32Array
  readonly green: Float32Array
  readonly blue: Float32Array
  /** null where the file has none */
  readonly alpha: Float32Array | null
}

export function valuesOf({ type, samples }: Planes['planes'][number]): (index: number) => number {
  return type === 'half' ? (i) => halfTable[samples[i]] : (i) => samples[i]
}

/** @param planes red, green, blue and perhaps alpha */
export function samplePixels({ dataWindow: { width, height }, planes }: Planes, most = 6000): PixelSample {
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / most)))
  const [across, down] = [Math.ceil(width / step), Math.ceil(height / step)]
  const [red, green, blue, alpha] = planes.slice(0, 4).map((plane) => {
    const value = valuesOf(plane)
    const out = new Float32Array(across * down)
    for (let y = 0, o = 0; y < height; y += step)
      for (let x = 0; x < width; x += step, o++) out[o] = value(y * width + x)
    return out
  })
  return { count: across * down, red, green, blue, alpha: alpha ?? null }
}

/** @param sorted ascending @param share 0..1 */
export function quantile(sorted: ArrayLike<number>, share: number): number {
  if (sorted.length === 0) return NaN
  const at = Math.min(sorted.length - 1, Math.max(0, share * (sorted.length - 1)))
  const low = Math.floor(at)
  const high = Math.min(low + 1, sorted.length - 1)
  return sorted[low] + (at - low) * (sorted[high] - sorted[low])
}

export const ascending = (values: ArrayLike<number>): Float64Array => new Float64Array(values).sort()
