/**
 * How far a composite is from the picture that the camera would have taken: colour, structure, detail, edges, place, grain.
 *
 * The true picture has no grain, so colour and structure are compared after both were low-passed: two perfect grains differ
 * by dE2000 of 2.5 to 7 a pixel. Everything is measured inside the element and around its edges only.
 */

import { solved } from '../algebra/solved'
import { quantile } from '../measure/sample'
import { differenceOf, labOf } from '../colour'
import { between, brightnessOf, channelsOf, lowPassed, type Picture, type Plane } from './picture'

export interface Spread {
  readonly median: number
  readonly percentile95: number
  readonly pixels: number
}

export interface FrameScore {
  /** dE2000 where the element covers, and around its edges */
  readonly inside: Spread
  readonly edges: Spread
  /** dE2000 where nothing covers, on every fourth row and column: it tells whether the truth is of this picture at all */
  readonly outside: Spread
  /** mean structural similarity of both places (Wang et al. 2004); 1 is the same */
  readonly similarity: number
  /** root mean square over octaves of log2 of the ratio of gradient energies; 0 is the same */
  readonly spectrum: number
  /** width of the element's edges over that of the true ones; null where there is no edge to measure */
  readonly edgeSpread: number | null
  /** by how many pixels the composite lies to the right and below the truth */
  readonly registration: { readonly x: number; readonly y: number }
  /** deviation of the composite's grain inside over what the camera's would be, for red, green and blue */
  readonly grain: readonly [number, number, number] | null
}

/** Of the camera's grain: variance = shot * I + read, for each channel. */
export interface TrueGrain {
  readonly shot: readonly number[]
  readonly read: readonly number[]
}

/** Takes grain out and leaves colour. */
const lowPassSigma = 4
/** Lets grain through to where it is not detail: for places and edges. */
const detailSigma = 1
const [least, most] = [0.02, 0.98]
const edgeReach = 3

/**
 * @param coverage of the element as it is seen, 0 to 1
 * @returns null where the element is not seen
 */
export function scoreFrame(
  composite: Picture,
  truth: Picture,
  coverage: Plane,
  grain: TrueGrain | null = null,
): FrameScore | null {
  const { inside, edges, outside } = placesOf(coverage)
  if (inside.length === 0 && edges.length === 0) return null
  const [smooth, smoothTruth] = [composite, truth].map(({ red, green, blue }): Picture => ({
    red: lowPassed(red, lowPassSigma),
    green: lowPassed(green, lowPassSigma),
    blue: lowPassed(blue, lowPassSigma),
  }))
  const both = [...inside, ...edges]
  const [fine, fineTruth] = [composite, truth].map((one) => lowPassed(brightnessOf(one), detailSigma))
  return {
    inside: differences(smooth, smoothTruth, inside),
    edges: differences(smooth, smoothTruth, edges),
    outside: differences(smooth, smoothTruth, outside),
    similarity: similarityOf(brightnessOf(smooth), brightnessOf(smoothTruth), both),
    spectrum: spectrumDistance(fine, fineTruth, both),
    edgeSpread: edgeSpreadRatio(brightnessOf(composite), brightnessOf(truth), coverage),
    registration: registrationOf(fine, fineTruth, both),
    grain: grain && inside.length > 0 ? grainRatios(composite, truth, inside, grain) : null,
  }
}

const outsideStep = 4

function placesOf({ width, height, values }: Plane): Readonly<Record<'inside' | 'edges' | 'outside', number[]>> {
  const near = new Uint8Array(values.length)
  for (let i = 0; i < values.length; i++) {
    if (values[i] <= least || values[i] >= most) continue
    const [x, y] = [i % width, Math.floor(i / width)]
    for (let dy = -edgeReach; dy <= edgeReach; dy++)
      for (let dx = -edgeReach; dx <= edgeReach; dx++)
        if (x + dx >= 0 && x + dx < width && y + dy >= 0 && y + dy < height) near[i + dy * width + dx] = 1
  }
  const inside: number[] = []
  const edges: number[] = []
  const outside: number[] = []
  for (let i = 0; i < values.length; i++)
    if (near[i] === 1) edges.push(i)
    else if (values[i] >= most) inside.push(i)
    else if ((i % width) % outsideStep === 0 && Math.floor(i / width) % outsideStep === 0) outside.push(i)
  return { inside, edges, outside }
}

function differences(a: Picture, b: Picture, places: readonly number[]): Spread {
  const lab = ({ red, green, blue }: Picture, i: number) => labOf(red.values[i], green.values[i], blue.values[i])
  const all = Float64Array.from(places, (i) => differenceOf(lab(a, i), lab(b, i))).sort()
  return { median: quantile(all, 0.5), percentile95: quantile(all, 0.95), pixels: all.length }
}

/** Windows of sigma 1.5; constants for values of 0..1. */
function similarityOf(a: Plane, b: Plane, places: readonly number[]): number {
  const product = (p: Plane, q: Plane): Plane => ({ ...p, values: p.values.map((value, i) => value * q.values[i]) })
  const local = (plane: Plane) => lowPassed(plane, 1.5).values
  const [ma, mb] = [local(a), local(b)]
  const [aa, bb, ab] = [local(product(a, a)), local(product(b, b)), local(product(a, b))]
  const [c1, c2] = [0.01 ** 2, 0.03 ** 2]
  let sum = 0
  for (const i of places) {
    const [va, vb, cov] = [aa[i] - ma[i] ** 2, bb[i] - mb[i] ** 2, ab[i] - ma[i] * mb[i]]
    sum += ((2 * ma[i] * mb[i] + c1) * (2 * cov + c2)) / ((ma[i] ** 2 + mb[i] ** 2 + c1) * (va + vb + c2))
  }
  return sum / places.length
}

const octaves = [1, 2, 4, 8]

/** Differences of pixels 2, 4, 8 and 16 apart: finer ones are mostly grain. */
function spectrumDistance(a: Plane, b: Plane, places: readonly number[]): number {
  const { width, values } = a
  const energy = (plane: Plane, step: number) => {
    const smooth = step === 1 ? plane.values : lowPassed(plane, step / 2).values
    let [sum, count] = [0, 0]
    for (const i of places) {
      const x = i % width
      if (x < step || x + step >= width || i - step * width < 0 || i + step * width >= values.length) continue
      sum += (smooth[i + step] - smooth[i - step]) ** 2 + (smooth[i + step * width] - smooth[i - step * width]) ** 2
      count++
    }
    return count > 0 ? sum / count : 0
  }
  const ratios = octaves.map((step) => Math.log2((energy(a, step) + 1e-12) / (energy(b, step) + 1e-12)))
  return Math.sqrt(ratios.reduce((sum, ratio) => sum + ratio * ratio, 0) / ratios.length)
}

const edgeHalf = 6
const edgeStep = 0.5
const leastContrast = 0.04
const mostEdges = 4000

/** Across the element's outline: the mean rise from one side to the other, and how wide it is. */
function edgeSpreadRatio(a: Plane, b: Plane, coverage: Plane): number | null {
  const { width, height, values } = coverage
  const steps = 2 * Math.round(edgeHalf / edgeStep) + 1
  const rises = [new Float64Array(steps), new Float64Array(steps)] as const
  let count = 0
  for (let y = 1; y + 1 < height && count < mostEdges; y++)
    for (let x = 1; x + 1 < width; x++) {
      const i = y * width + x
      if (!(values[i] > 0.35 && values[i] < 0.65)) continue
      const [gx, gy] = [values[i + 1] - values[i - 1], values[i + width] - values[i - width]]
      const length = Math.hypot(gx, gy)
      if (length < 0.2) continue
      const profiles = [a, b].map((plane) =>
        Float64Array.from({ length: steps }, (_, k) => {
          const t = (k * edgeStep - edgeHalf) / length
          return between(plane, x + gx * t, y + gy * t)
        }),
      )
      const contrasts = profiles.map((profile) => profile[steps - 1] - profile[0])
      // The same edge in both: it rises or falls in both, by enough to be seen.
      if (contrasts[0] * contrasts[1] <= 0 || contrasts.some((contrast) => Math.abs(contrast) < leastContrast)) continue
      profiles.forEach((profile, which) => {
        for (let k = 0; k < steps; k++) rises[which][k] += (profile[k] - profile[0]) / contrasts[which]
      })
      count++
    }
  if (count < 20) return null
  const [ours, theirs] = rises.map(widthOfRise)
  return theirs > 0 ? ours / theirs : null
}

/** From a tenth to nine tenths of the rise, which the far ends hardly change. @returns pixels */
function widthOfRise(rise: Float64Array): number {
  const last = rise[rise.length - 1]
  const crossing = (share: number) => {
    const level = share * last
    for (let k = 0; k + 1 < rise.length; k++)
      if (rise[k] <= level && rise[k + 1] > level) return k + (level - rise[k]) / (rise[k + 1] - rise[k])
    return 0
  }
  return (crossing(0.9) - crossing(0.1)) * edgeStep
}

/** Gauss-Newton on the shift, as Lucas and Kanade (1981), with a gain and an offset of brightness beside it. */
function registrationOf(a: Plane, b: Plane, places: readonly number[]): { readonly x: number; readonly y: number } {
  const { width, values } = b
  let [dx, dy] = [0, 0]
  for (let turn = 0; turn < 12; turn++) {
    const normal = new Float64Array(16)
    const right = new Float64Array(4)
    for (const i of places) {
      const [x, y] = [i % width, Math.floor(i / width)]
      if (x < 2 || x + 2 >= width || i < 2 * width || i + 2 * width >= values.length) continue
      const row = [
        between(a, x + dx + 0.5, y + dy) - between(a, x + dx - 0.5, y + dy),
        between(a, x + dx, y + dy + 0.5) - between(a, x + dx, y + dy - 0.5),
        -values[i],
        -1,
      ]
      const rest = -between(a, x + dx, y + dy)
      for (let r = 0; r < 4; r++) {
        right[r] += row[r] * rest
        for (let c = 0; c < 4; c++) normal[r * 4 + c] += row[r] * row[c]
      }
    }
    const step = solved(normal, right)
    if (!step) break
    dx += step[0]
    dy += step[1]
    if (Math.hypot(step[0], step[1]) < 1e-4) break
  }
  return { x: dx, y: dy }
}

function grainRatios(
  composite: Picture,
  truth: Picture,
  inside: readonly number[],
  { shot, read }: TrueGrain,
): [number, number, number] {
  const truths = channelsOf(truth)
  const ratios = channelsOf(composite).map((plane, c) => {
    const apart: Plane = { ...plane, values: plane.values.map((value, i) => value - truths[c].values[i]) }
    const smooth = lowPassed(apart, lowPassSigma).values
    let [found, expected] = [0, 0]
    for (const i of inside) {
      found += (apart.values[i] - smooth[i]) ** 2
      expected += shot[c] * Math.max(0, truths[c].values[i]) + read[c]
    }
    return Math.sqrt(found / expected)
  })
  return ratios as [number, number, number]
}
