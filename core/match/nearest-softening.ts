/** The Gaussian that, put on a sharp picture, comes nearest to a softer one of the same. */

import { leastBetween } from '../algebra/golden-section'
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
/** Pictures beyond so many pixels make it no better than its model is. */
const mostPixels = 30_000
/** Of so many errors across and down differ. */
const unlikeFrom = 4

/**
 * Least squares over sigma across and down; for each, gain and offset of every channel are those that fit best, so that colour
 * and black level need not be matched before.
 *
 * @returns null where there is too little to go by: too few covered pixels, or no edges in them
 */
export function nearestSoftening(pictures: readonly SharpAndSeen[]): Softening | null {
  const prepared: Prepared[] = []
  let count = 0
  for (const picture of pictures) {
    if (count > mostPixels) break
    const one = prepare(picture)
    if (one.places.length === 0) continue
    prepared.push(one)
    count += one.places.length
  }
  if (count < leastPixels) return null
  const cost = (across: number, down: number) => leftOver(prepared, across, down)
  const coarse = Array.from({ length: 13 }, (_, i) => (i * widest) / 12)
  const costs = coarse.map((sigma) => cost(sigma, sigma))
  const best = costs.indexOf(Math.min(...costs))
  if (best === coarse.length - 1) return null
  const near = widest / 12
  const least = (of: (sigma: number) => number, about: number) =>
    leastBetween(of, Math.max(0, about - near), about + near, 1e-3)
  let across = least((sigma) => cost(sigma, sigma), coarse[best])
  let down = across
  for (let round = 0; round < 2; round++) {
    across = least((sigma) => cost(sigma, down), across)
    down = least((sigma) => cost(across, sigma), down)
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
  /** three values a pixel: as they came, softened across, softened across and down */
  readonly plain: Float64Array
  readonly across: Float64Array
  readonly both: Float64Array
  /** the weights that `across` was made by: while the one across stays and the one down is looked for, it stays as well */
  madeBy: readonly number[] | null
}

const reach = Math.ceil(widest * 1.5)

function prepare(whole: SharpAndSeen): Prepared {
  return withPlaces(covering(whole))
}

/** No more of it than is covered. */
function covering({ window: { width, height }, sharp, seen }: SharpAndSeen): SharpAndSeen {
  let [left, top, right, bottom] = [width, height, 0, 0]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!(sharp[4 * (y * width + x) + 3] >= covered)) continue
      left = Math.min(left, x)
      right = Math.max(right, x + 1)
      top = Math.min(top, y)
      bottom = y + 1
    }
  const window = { width: Math.max(0, right - left), height: Math.max(0, bottom - top) }
  const cut = (from: Float32Array) => {
    const out = new Float32Array(window.width * window.height * 4)
    for (let y = 0; y < window.height; y++) {
      const at = ((top + y) * width + left) * 4
      out.set(from.subarray(at, at + 4 * window.width), y * window.width * 4)
    }
    return out
  }
  return { window, sharp: cut(sharp), seen: cut(seen) }
}

function withPlaces(picture: SharpAndSeen): Prepared {
  const { width, height } = picture.window
  const whole = new Uint8Array(width * height)
  const { sharp, seen } = picture
  const { isFinite } = Number
  for (let i = 0; i < whole.length; i++) {
    const at = 4 * i
    const sum = sharp[at] + sharp[at + 1] + sharp[at + 2] + seen[at] + seen[at + 1] + seen[at + 2]
    whole[i] = isFinite(sum) && sharp[at + 3] >= covered ? 1 : 0
  }
  const across = eroded(whole, width, height, 1, reach)
  const both = eroded(across, height, width, width, reach)
  const places: number[] = []
  both.forEach((one, i) => one === 1 && places.push(i))
  const plain = new Float64Array(width * height * 3)
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) plain[3 * i + c] = picture.sharp[4 * i + c]
  return {
    ...{ ...picture, places: Int32Array.from(places), plain, madeBy: null },
    ...{ across: new Float64Array(plain.length), both: new Float64Array(plain.length) },
  }
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
  const soft = prepared.map((one) => softened(one, taps))
  for (const c of [0, 1, 2]) {
    let n = 0
    let [sx, sy, sxx, sxy, syy] = [0, 0, 0, 0, 0]
    for (let which = 0; which < prepared.length; which++) {
      const { places, seen } = prepared[which]
      const own = soft[which]
      n += places.length
      for (let k = 0; k < places.length; k++) {
        const i = places[k]
        const x = own[3 * i + c]
        const y = seen[4 * i + c]
        sx += x
        sy += y
        sxx += x * x
        sxy += x * y
        syy += y * y
      }
    }
    const [xx, xy, yy] = [sxx - (sx * sx) / n, sxy - (sx * sy) / n, syy - (sy * sy) / n]
    squares += yy - (xx > 0 ? (xy * xy) / xx : 0)
  }
  return squares
}

/** @returns `both` of what was prepared, made anew */
function softened(of: Prepared, [across, down]: readonly [readonly number[], readonly number[]]): Float64Array {
  const { width, height } = of.window
  if (of.madeBy !== across) {
    along(of.plain, of.across, { count: width, stride: 3, lines: height, lineStride: 3 * width }, across)
    of.madeBy = across
  }
  along(of.across, of.both, { count: height, stride: 3 * width, lines: width, lineStride: 3 }, down)
  return of.both
}

interface Axis {
  readonly count: number
  readonly stride: number
  readonly lines: number
  readonly lineStride: number
}

/** Beyond its ends a line goes on with its outermost pixels, which nothing that is compared sees. */
function along(
  from: Float64Array,
  out: Float64Array,
  { count, stride, lines, lineStride }: Axis,
  taps: readonly number[],
): void {
  const reach = taps.length - 1
  for (let line = 0; line < lines; line++)
    for (let at = 0; at < count; at++) {
      const i = line * lineStride + at * stride
      for (let c = 0; c < 3; c++) {
        let sum = taps[0] * from[i + c]
        if (at >= reach && at + reach < count)
          for (let k = 1; k <= reach; k++) sum += taps[k] * (from[i - k * stride + c] + from[i + k * stride + c])
        else
          for (let k = 1; k <= reach; k++)
            sum +=
              taps[k] * (from[i - Math.min(k, at) * stride + c] + from[i + Math.min(k, count - 1 - at) * stride + c])
        out[i + c] = sum
      }
    }
}
