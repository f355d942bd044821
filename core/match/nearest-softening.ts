/** The Gaussian that, put on a sharp picture, comes nearest to a softer one of the same. */

import type { Window } from '../image/window'
import { gaussianAxis } from '../kernels/gaussian'

/** The same thing twice: as it was rendered, and as it was seen. */
export interface SharpAndSeen {
  readonly window: Pick<Window, 'width' | 'height'>
  /** premultiplied RGBA; only where it is covered all around is it compared */
  readonly sharp: Float32Array
  readonly seen: Float32Array
}

export interface Softening {
  /** sigmas in pixels of the pictures */
  readonly across: number
  readonly down: number
  /** standard error of the mean of both by noise */
  readonly error: number
}

const widest = 3
const covered = 0.999
/** Grain has a size: so many pixels beside each other say no more than one. */
const pixelsOfAGrain = 4
const leastPixels = 200
/** Of so many errors across and down differ. */
const unlikeFrom = 4

/**
 * Least squares over sigma across and down; for each, gain and offset of every channel are those that fit best, so that colour
 * and black level need not be matched before.
 *
 * @returns null where there is too little to go by: too few covered pixels, or no edges in them
 */
export function nearestSoftening(pictures: readonly SharpAndSeen[]): Softening | null {
  const prepared = pictures.map(prepare).filter(({ places }) => places.length > 0)
  const count = prepared.reduce((sum, { places }) => sum + places.length, 0)
  if (count < leastPixels) return null
  const cost = (across: number, down: number) => leftOver(prepared, across, down)
  const coarse = Array.from({ length: 13 }, (_, i) => (i * widest) / 12)
  const costs = coarse.map((sigma) => cost(sigma, sigma))
  const best = costs.indexOf(Math.min(...costs))
  if (best === coarse.length - 1) return null
  const near = widest / 12
  const within = (sigma: number) => [Math.max(0, sigma - near), sigma + near] as const
  let across = least((sigma) => cost(sigma, sigma), ...within(coarse[best]))
  let down = across
  for (let round = 0; round < 2; round++) {
    across = least((sigma) => cost(sigma, down), ...within(across))
    down = least((sigma) => cost(across, sigma), ...within(down))
  }
  // How fast it gets worse says how well it is told.
  const [mean, step] = [(across + down) / 2, 0.08]
  const [lower, upper] = [Math.max(0.1, mean - step), mean + step]
  const middle = (lower + upper) / 2
  const bend = (cost(lower, lower) - 2 * cost(middle, middle) + cost(upper, upper)) / ((upper - lower) / 2) ** 2
  const noise = (cost(across, down) / (3 * count)) * pixelsOfAGrain
  if (!(bend > 0)) return null
  const error = Math.sqrt((2 * noise) / bend)
  if (!(error < 0.5)) return null
  // Most lenses blur alike in all directions: it takes more than noise to say otherwise.
  const apart = Math.abs(across - down) > unlikeFrom * error
  const both = Math.sqrt((across * across + down * down) / 2)
  return apart ? { across, down, error } : { across: both, down: both, error }
}

interface Prepared extends SharpAndSeen {
  /** pixels that are covered as far as the widest Gaussian reaches */
  readonly places: Int32Array
}

function prepare(picture: SharpAndSeen): Prepared {
  const { width, height } = picture.window
  const reach = Math.ceil(widest * 1.5)
  const whole = new Uint8Array(width * height)
  for (let i = 0; i < whole.length; i++) {
    const { sharp, seen } = picture
    const sound = [0, 1, 2].every((c) => Number.isFinite(sharp[4 * i + c]) && Number.isFinite(seen[4 * i + c]))
    whole[i] = sound && sharp[4 * i + 3] >= covered ? 1 : 0
  }
  const across = eroded(whole, width, height, 1, reach)
  const both = eroded(across, height, width, width, reach)
  const places: number[] = []
  both.forEach((one, i) => one === 1 && places.push(i))
  return { ...picture, places: Int32Array.from(places) }
}

/** Along lines whose pixels lie `stride` apart. */
function eroded(mask: Uint8Array, length: number, lines: number, stride: number, reach: number): Uint8Array {
  const out = new Uint8Array(mask.length)
  const lineStride = stride === 1 ? length : 1
  for (let line = 0; line < lines; line++) {
    let run = 0
    for (let i = 0; i < length; i++) {
      run = mask[line * lineStride + i * stride] === 1 ? run + 1 : 0
      if (run > 2 * reach) out[line * lineStride + (i - reach) * stride] = 1
    }
  }
  return out
}

const known = new Map<number, readonly number[]>()

/** To half a thousandth of a pixel: finding the weights of one takes milliseconds. */
function weightsOf(sigma: number): readonly number[] {
  const step = Math.round(sigma * 2000)
  let weights = known.get(step)
  if (!weights) known.set(step, (weights = gaussianAxis(step / 2000).weights))
  return weights
}

/** Squares that are left when gain and offset of each channel are the best there are. */
function leftOver(prepared: readonly Prepared[], across: number, down: number): number {
  const taps = [weightsOf(across), weightsOf(down)] as const
  let squares = 0
  const soft = prepared.map(({ sharp, window }) => softened(sharp, window, taps))
  for (const c of [0, 1, 2]) {
    let [n, sx, sy, sxx, sxy, syy] = [0, 0, 0, 0, 0, 0]
    prepared.forEach(({ places, seen }, which) => {
      for (const i of places) {
        const [x, y] = [soft[which][3 * i + c], seen[4 * i + c]]
        n++
        sx += x
        sy += y
        sxx += x * x
        sxy += x * y
        syy += y * y
      }
    })
    const [xx, xy, yy] = [sxx - (sx * sx) / n, sxy - (sx * sy) / n, syy - (sy * sy) / n]
    squares += yy - (xx > 0 ? (xy * xy) / xx : 0)
  }
  return squares
}

function softened(
  sharp: Float32Array,
  { width, height }: Pick<Window, 'width' | 'height'>,
  [across, down]: readonly [readonly number[], readonly number[]],
): Float64Array {
  const pass = (from: Float64Array, count: number, stride: number, taps: readonly number[]) => {
    const out = new Float64Array(from.length)
    const pixels = width * height
    for (let i = 0; i < pixels; i++) {
      const at = Math.floor(i / stride) % count
      for (let c = 0; c < 3; c++) {
        let sum = taps[0] * from[3 * i + c]
        for (let k = 1; k < taps.length; k++) {
          const before = at - k >= 0 ? i - k * stride : i
          const after = at + k < count ? i + k * stride : i
          sum += taps[k] * (from[3 * before + c] + from[3 * after + c])
        }
        out[3 * i + c] = sum
      }
    }
    return out
  }
  const plain = new Float64Array(width * height * 3)
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) plain[3 * i + c] = sharp[4 * i + c]
  const first = across.length > 1 ? pass(plain, width, 1, across) : plain
  return down.length > 1 ? pass(first, height, width, down) : first
}

/** The golden section; to a thousandth. */
function least(cost: (x: number) => number, from: number, to: number): number {
  const share = (Math.sqrt(5) - 1) / 2
  let [low, high] = [from, to]
  let [a, b] = [high - share * (high - low), low + share * (high - low)]
  let [costA, costB] = [cost(a), cost(b)]
  while (high - low > 1e-3) {
    if (costA < costB) {
      ;[high, b, costB] = [b, a, costA]
      a = high - share * (high - low)
      costA = cost(a)
    } else {
      ;[low, a, costA] = [a, b, costB]
      b = low + share * (high - low)
      costB = cost(b)
    }
  }
  return (low + high) / 2
}
