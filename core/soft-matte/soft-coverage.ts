/**
 * Coverage of hair and other soft edges: between what is surely inside and what is surely outside, by the colours of both. The
 * matting equation over the band alone, by conjugate gradients, from coarse to fine.
 */

import { colourLines, type ColourLines, type ColourPlanes } from './colour-lines'

export interface SoftCoverageOptions {
  /** deviation of the camera's noise, scene-linear */
  readonly noise: number
  readonly signal?: AbortSignal
}

const { ceil, max, min } = Math

/** Pictures smaller than this are begun with. */
const leastSide = 24
/** Rounds of conjugate gradients at full size; a coarser one is quicker and may take more. */
const mostRounds = 120
/** It is good enough when what is left is so small a share of what there was. */
const leftOver = 1e-3

/**
 * @param known by pixel: 0 surely outside, 1 surely inside, NaN between
 * @returns coverage, held to 0 and 1
 */
export function softCoverage(picture: ColourPlanes, known: Float32Array, options: SoftCoverageOptions): Float32Array {
  const { width, height } = picture
  const coarser = min(width, height) >= 2 * leastSide ? halved(picture, known) : null
  // Averages of four pixels have half the noise.
  const start = coarser
    ? doubled(
        softCoverage(coarser.picture, coarser.known, { ...options, noise: options.noise / 2 }),
        coarser.picture,
        picture,
      )
    : null
  options.signal?.throwIfAborted()
  const isUnknown = Uint8Array.from(known, (value) => (value === value ? 0 : 1))
  const lines = colourLines(picture, isUnknown, max(1e-9, 0.1 * options.noise ** 2))
  const found = solved(lines, known, start, options.signal)
  const out = new Float32Array(width * height)
  for (let i = 0; i < out.length; i++) out[i] = min(1, max(0, isUnknown[i] ? found[i] : known[i]))
  return out
}

function solved(
  { unknown, apply, diagonal }: ColourLines,
  known: Float32Array,
  start: Float32Array | null,
  signal?: AbortSignal,
): Float64Array {
  const size = known.length
  const x = Float64Array.from(known, (value, i) => (value === value ? value : (start?.[i] ?? 0.5)))
  const residual = new Float64Array(size)
  const direction = new Float64Array(size)
  const moved = new Float64Array(size)
  const inverse = new Float64Array(size)
  for (let u = 0; u < unknown.length; u++) {
    const i = unknown[u]
    inverse[i] = diagonal[i] > 1e-12 ? 1 / diagonal[i] : 1
  }
  apply(x, moved)
  let now = 0
  for (let u = 0; u < unknown.length; u++) {
    const i = unknown[u]
    residual[i] = -moved[i]
    direction[i] = residual[i] * inverse[i]
    now += residual[i] * direction[i]
  }
  // What there would be if nothing were known of the band.
  const first = start ? beginning(apply, known, unknown, inverse) : now
  for (let round = 0; round < mostRounds && now > leftOver ** 2 * first && now > 0; round++) {
    signal?.throwIfAborted()
    moved.fill(0)
    apply(direction, moved)
    let along = 0
    for (let u = 0; u < unknown.length; u++) along += direction[unknown[u]] * moved[unknown[u]]
    if (!(along > 0)) break
    const step = now / along
    let next = 0
    for (let u = 0; u < unknown.length; u++) {
      const i = unknown[u]
      x[i] += step * direction[i]
      residual[i] -= step * moved[i]
      next += residual[i] * residual[i] * inverse[i]
    }
    const share = next / now
    now = next
    for (let u = 0; u < unknown.length; u++) {
      const i = unknown[u]
      direction[i] = residual[i] * inverse[i] + share * direction[i]
    }
  }
  return x
}

function beginning(
  apply: ColourLines['apply'],
  known: Float32Array,
  unknown: Int32Array,
  inverse: Float64Array,
): number {
  const x = Float64Array.from(known, (value) => (value === value ? value : 0.5))
  const moved = new Float64Array(known.length)
  apply(x, moved)
  return unknown.reduce((sum, i) => sum + moved[i] * moved[i] * inverse[i], 0)
}

/** Half as wide and high: means of colour; a place is known where all of it is known and the same. */
function halved({ width, height, planes }: ColourPlanes, known: Float32Array) {
  const [w, h] = [ceil(width / 2), ceil(height / 2)]
  const out = planes.map(() => new Float32Array(w * h)) as [Float32Array, Float32Array, Float32Array]
  const less = new Float32Array(w * h)
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0; x < w; x++, o++) {
      const right = 2 * x + 1 < width ? 1 : 0
      const down = 2 * y + 1 < height ? width : 0
      const i = 2 * y * width + 2 * x
      for (let c = 0; c < 3; c++) {
        const plane = planes[c]
        out[c][o] = (plane[i] + plane[i + right] + plane[i + down] + plane[i + right + down]) / 4
      }
      const [a, b, c, d] = [known[i], known[i + right], known[i + down], known[i + right + down]]
      less[o] = a === b && c === d && a === c ? a : NaN
    }
  return { picture: { width: w, height: h, planes: out } satisfies ColourPlanes, known: less }
}

/** Twice as wide and high, evenly between. */
function doubled(
  coverage: Float32Array,
  { width: w, height: h }: ColourPlanes,
  { width, height }: ColourPlanes,
): Float32Array {
  const out = new Float32Array(width * height)
  for (let y = 0, o = 0; y < height; y++) {
    const v = min(h - 1, max(0, (y + 0.5) / 2 - 0.5))
    const top = v | 0
    const below = min(h - 1, top + 1)
    const q = v - top
    for (let x = 0; x < width; x++, o++) {
      const u = min(w - 1, max(0, (x + 0.5) / 2 - 0.5))
      const left = u | 0
      const right = min(w - 1, left + 1)
      const p = u - left
      out[o] =
        (1 - q) * ((1 - p) * coverage[top * w + left] + p * coverage[top * w + right]) +
        q * ((1 - p) * coverage[below * w + left] + p * coverage[below * w + right])
    }
  }
  return out
}
