/** What lens and sensor do to the light of a frame: blur, vignette, veil, highlight shoulder, grain. */

import type { Frame } from './camera'
import { gaussian3 } from './noise'

export interface Recording {
  /** light spread over the whole picture at lamp level 1, per channel */
  readonly veil: readonly [number, number, number]
  /** variance per unit of signal, per channel */
  readonly shot: readonly [number, number, number]
  /** variance in the dark, per channel */
  readonly read: readonly [number, number, number]
  /** sigma in pixels of the core of the lens blur, of its skirt, and the skirt's share */
  readonly blur: readonly [number, number, number]
  /** darkening at the corners */
  readonly vignette: number
}

export function recordingFor(seed: number): Recording {
  const vary = 1 + 0.12 * Math.sin(seed * 2.3)
  return {
    veil: [0.021 * vary, 0.0235 * vary, 0.0285 * vary],
    shot: [0.00038, 0.0003, 0.00075],
    read: [1.1e-5, 0.8e-5, 2.9e-5],
    blur: [0.62, 2.1, 0.16],
    vignette: 0.16,
  }
}

function gaussianTaps(sigma: number): Float64Array {
  const radius = Math.ceil(sigma * 3)
  const taps = new Float64Array(2 * radius + 1)
  let sum = 0
  for (let i = -radius; i <= radius; i++) sum += taps[i + radius] = Math.exp((-i * i) / (2 * sigma * sigma))
  return taps.map((tap) => tap / sum)
}

/** Separable blur of `channels` interleaved values, edges held. */
function blurred(pixels: Float32Array, { width, height }: Frame, channels: number, sigma: number): Float32Array {
  const taps = gaussianTaps(sigma)
  const radius = (taps.length - 1) / 2
  const row = width * channels
  const across = new Float32Array(pixels.length)
  // Each row with its ends repeated, so that the sums need not look where they are.
  const held = new Float32Array(row + 2 * radius * channels)
  for (let y = 0; y < height; y++) {
    const from = y * row
    for (let k = 0; k < radius * channels; k++) {
      held[k] = pixels[from + (k % channels)]
      held[held.length - 1 - k] = pixels[from + row - 1 - (k % channels)]
    }
    held.set(pixels.subarray(from, from + row), radius * channels)
    sumTaps(across, from, row, held, radius * channels, channels, taps)
  }
  const out = new Float32Array(pixels.length)
  const column = new Float32Array((2 * radius + 1) * row)
  for (let y = 0; y < height; y++) {
    if (y >= radius && y < height - radius) {
      sumTaps(out, y * row, row, across, y * row, row, taps)
      continue
    }
    for (let i = -radius; i <= radius; i++) {
      const from = Math.min(height - 1, Math.max(0, y + i)) * row
      column.set(across.subarray(from, from + row), (i + radius) * row)
    }
    sumTaps(out, y * row, row, column, radius * row, row, taps)
  }
  return out
}

/** Sums of values `stride` apart about each of `count` values from `first` on; the taps are the same on both sides. */
function sumTaps(
  to: Float32Array,
  at: number,
  count: number,
  from: Float32Array,
  first: number,
  stride: number,
  taps: Float64Array,
): void {
  const radius = (taps.length - 1) / 2
  for (let k = 0; k < count; k++) {
    const middle = first + k
    let sum = taps[radius] * from[middle]
    for (let i = 1; i <= radius; i++) sum += taps[radius + i] * (from[middle - i * stride] + from[middle + i * stride])
    to[at + k] = sum
  }
}

/** The lens's blur: a core and a wider skirt, so that no single Gaussian is the whole truth. */
export function lensBlur(pixels: Float32Array, frame: Frame, channels: number, recording: Recording): Float32Array {
  const [core, skirt, share] = recording.blur
  // Sigmas are for a frame 1280 wide; a smaller frame has a smaller blur.
  const scale = frame.width / 1280
  const sharp = blurred(pixels, frame, channels, Math.max(0.3, core * scale))
  const soft = blurred(pixels, frame, channels, Math.max(0.3, skirt * scale))
  for (let i = 0; i < sharp.length; i++) sharp[i] += (soft[i] - sharp[i]) * share
  return sharp
}

/** Values above 3 bend towards 7. */
function shoulder(value: number): number {
  return value <= 3 ? value : 3 + 4 * (1 - Math.exp(-(value - 3) / 4))
}

/** From blurred light to what is recorded, without grain. `level` is the lamps' brightness now: the veil drifts with it. */
export function record(light: Float32Array, frame: Frame, recording: Recording, level: number): Float32Array {
  const out = new Float32Array(light.length)
  const { width, height } = frame
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const u = (x + 0.5) / width - 0.5
      const v = ((y + 0.5) / height - 0.5) * (height / width)
      const vignette = 1 - recording.vignette * Math.min(1, (u * u + v * v) / 0.33)
      for (let c = 0; c < 3; c++) {
        const i = (y * width + x) * 3 + c
        out[i] = shoulder(light[i] * vignette + recording.veil[c] * level)
      }
    }
  }
  return out
}

/** Adds grain: Poisson-Gaussian variance, a little wider than a pixel, new on every frame. */
export function addGrain(
  pixels: Float32Array,
  { width, height }: Frame,
  recording: Recording,
  frame: number,
  seed: number,
): Float32Array {
  const out = new Float32Array(pixels.length)
  const raw = new Float32Array((width + 2) * (height + 2))
  const side = 0.16
  const norm = 1 / Math.sqrt(1 + 4 * side * side)
  for (let c = 0; c < 3; c++) {
    for (let y = 0; y < height + 2; y++)
      for (let x = 0; x < width + 2; x++) raw[y * (width + 2) + x] = gaussian3(x * 4 + c, y, frame * 977 + seed)
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const k = (y + 1) * (width + 2) + x + 1
        const noise = norm * (raw[k] + side * (raw[k - 1] + raw[k + 1] + raw[k - width - 2] + raw[k + width + 2]))
        const i = (y * width + x) * 3 + c
        out[i] = pixels[i] + noise * Math.sqrt(recording.shot[c] * Math.max(0, pixels[i]) + recording.read[c])
      }
    }
  }
  return out
}
