import { solved } from '../algebra/solved'
import { gaussianAxis } from '../kernels/gaussian'
import { randomOf } from '../test/random'
import { addSums, noSums, refinedVariance, softnessSums, varianceFactors } from './refined-softness'

const { hypot, sqrt } = Math

/** A disc with patches, over ground, photographed through a blur that is known, with grain that is wider than a pixel. */

const size = { width: 72, height: 60 }
const pixels = size.width * size.height

type Layer = readonly [light: Float64Array, cover: Float64Array]

/** With sixteen samples a pixel. */
function disc(patches: number, radius: number): Layer {
  const [light, cover] = [new Float64Array(pixels), new Float64Array(pixels)]
  for (let i = 0; i < pixels; i++)
    for (let s = 0; s < 16; s++) {
      const x = (i % size.width) + ((s % 4) + 0.5) / 4
      const y = Math.floor(i / size.width) + (Math.floor(s / 4) + 0.5) / 4
      if (hypot(x - 36, y - 30) > radius) continue
      cover[i] += 1 / 16
      light[i] += (0.03 + 0.05 * ((Math.floor(x / patches) * 7 + Math.floor(y / patches) * 3) % 5)) / 16
    }
  return [light, cover]
}

function blurred(values: Float64Array, sigma: number): Float64Array {
  const { weights } = gaussianAxis(sigma)
  const along = (from: Float64Array, step: number, length: number) =>
    from.map((_, i) => {
      const at = step === 1 ? i % size.width : Math.floor(i / size.width)
      let sum = weights[0] * from[i]
      for (let k = 1; k < weights.length; k++)
        sum += weights[k] * ((at >= k ? from[i - k * step] : 0) + (at + k < length ? from[i + k * step] : 0))
      return sum
    })
  return along(along(values, 1, size.width), size.width, size.height)
}

/** A sigma for each share; shares add up to 1. */
type Blur = readonly (readonly [share: number, sigma: number])[]
const through = (values: Float64Array, blur: Blur): Float64Array =>
  blur
    .map(([share, sigma]) => blurred(values, sigma).map((value) => share * value))
    .reduce((a, b) => a.map((value, i) => value + b[i]))

const ground = Float64Array.from({ length: pixels }, (_, i) => 0.08 + 0.02 * Math.sin(i / 9))
/** In red: the others say nothing. */
const rgba = (values: ArrayLike<number>, alpha: ArrayLike<number>) =>
  Float32Array.from({ length: 4 * pixels }, (_, i) => (i % 4 === 3 ? alpha[i >> 2] : i % 4 === 0 ? values[i >> 2] : 0))
const full = new Float64Array(pixels).fill(1)

function grainOn(values: Float64Array, level: number, seed: number): Float64Array {
  const { normal } = randomOf(seed)
  const white = Float64Array.from({ length: pixels }, () => normal())
  const side = 0.16
  const norm = 1 / sqrt(1 + 4 * side * side)
  return values.map((value, i) => {
    const beside = [i - 1, i + 1, i - size.width, i + size.width].reduce((sum, k) => sum + (white[k] ?? 0), 0)
    return value + level * norm * sqrt(value + 0.01) * (white[i] + side * beside)
  })
}

interface Photographed {
  readonly blur: Blur
  readonly level?: number
  readonly seed?: number
  readonly gain?: number
  readonly veil?: number
}

const over = (light: Float64Array, cover: Float64Array, plate: Float64Array) =>
  light.map((value, i) => value + (1 - cover[i]) * plate[i])

const madeOf = ([light, cover]: Layer, set: number, plate: Float64Array) =>
  varianceFactors.map((factor) => {
    const [l, a] = [light, cover].map((one) => blurred(one, set * sqrt(factor)))
    return { made: rgba(over(l, a, plate), full), cover: rgba(l, a) }
  })

function sumsOf(layer: Layer, { set, blur, level = 0, seed = 1, gain = 1, veil = 0 }: Photographed & { set: number }) {
  const [light, cover] = layer.map((one) => through(one, blur))
  const lit = light.map((value, i) => gain * value + veil * cover[i])
  const photograph = grainOn(over(lit, cover, ground), level, 2 * seed)
  const pictures = madeOf(layer, set, grainOn(ground, level, 2 * seed + 1))
  const [made, covers] = [pictures.map((one) => one.made), pictures.map((one) => one.cover)]
  return softnessSums(made, covers, rgba(photograph, full), size.width)
}

const chart = disc(6, 22)
/** In two rounds, the second from what the first has found. */
function found(layer: Layer, photographed: Photographed) {
  let set = 0.8
  for (let round = 0; ; round++) {
    const nearest = refinedVariance(sumsOf(layer, { ...photographed, set }))
    if (!nearest) throw new Error('Nothing was told.')
    const error = (set * nearest.error) / (2 * sqrt(nearest.factor))
    set *= sqrt(nearest.factor)
    if (round > 0) return { sigma: set, error }
  }
}

test.each([0.7, 0.8, 0.9])('without grain a Gaussian of %f is found, whatever gain and veil are', (sigma) => {
  expect(found(chart, { blur: [[1, sigma]], gain: 1.06, veil: 0.01 }).sigma).toBeCloseTo(sigma, 2)
})

test.each([0.01, 0.03])(
  'with grain of %f it is found without a lean to either side, and its errors are about as they are told',
  (level) => {
    const all = Array.from({ length: 30 }, (_, i) => found(chart, { blur: [[1, 0.8]], level, seed: i + 1 }))
    const offs = all.map(({ sigma }) => sigma - 0.8)
    const mean = offs.reduce((sum, one) => sum + one, 0) / offs.length
    const spread = sqrt(offs.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (offs.length - 1))
    const told = all.reduce((sum, { error }) => sum + error, 0) / all.length
    expect(Math.abs(mean)).toBeLessThan((2.5 * spread) / sqrt(offs.length))
    expect(spread / told).toBeGreaterThan(0.6)
    expect(spread / told).toBeLessThan(1.6)
  },
)

test('of a blur with a core and a skirt, a Gaussian between them is found, beside which others leave more', () => {
  const blur: Blur = [
    [0.8, 0.6],
    [0.2, 1.8],
  ]
  const { sigma } = found(chart, { blur })
  const [lit, covered] = chart.map((one) => through(one, blur))
  const wanted = over(lit, covered, ground)
  /** With the gain and the veil that are best for it. */
  const left = (own: number) => {
    const [light, cover] = chart.map((one) => blurred(one, own))
    const made = over(light, cover, ground)
    const off = wanted.map((value, i) => value - made[i])
    const weighed = (a: Float64Array, b: Float64Array) =>
      a.reduce((sum, value, i) => sum + (value * b[i]) / (made[i] + 0.01), 0)
    const inner = [weighed(light, light), weighed(light, cover), weighed(light, cover), weighed(cover, cover)]
    const right = [weighed(light, off), weighed(cover, off)]
    const best = solved(inner, right) ?? [0, 0]
    return weighed(off, off) - best[0] * right[0] - best[1] * right[1]
  }
  for (const factor of [0.85, 0.9, 1.15, 1.2]) expect(left(sigma)).toBeLessThan(left(factor * sigma))
})

test('where the light is brighter, and so its grain, a pixel tells less', () => {
  const upper = (i: number) => i < pixels / 2
  const [light, cover] = chart
  const layer: Layer = [light.map((value, i) => (upper(i) ? value : 3 * value)), cover]
  const [above, below] = [0.9, 0.7].map((sigma) => layer.map((one) => blurred(one, sigma)))
  const [lit, covered] = above.map((one, k) => one.map((value, i) => (upper(i) ? value : below[k][i])))
  const photograph = rgba(over(lit, covered, ground), full)
  const pictures = madeOf(layer, 0.8, ground)
  const [made, covers] = [pictures.map((one) => one.made), pictures.map((one) => one.cover)]
  const nearest = refinedVariance(softnessSums(made, covers, photograph, size.width))
  // The dark half asks for 0.9, the bright one for 0.7; were all pixels to count alike it would be 0.724.
  const sigma = 0.8 * sqrt(nearest?.factor ?? NaN)
  expect(sigma).toBeGreaterThan(0.735)
  expect(sigma).toBeLessThan(0.8)
})

test('nothing tells nothing; frames that are added tell the same, surer', () => {
  expect(refinedVariance(noSums)).toBeNull()
  const sums = sumsOf(chart, { set: 0.8, blur: [[1, 0.9]], level: 0.01 })
  const [one, four] = [refinedVariance(sums), refinedVariance([sums, sums, sums, sums].reduce(addSums))]
  expect(four?.factor).toBeCloseTo(one?.factor ?? NaN, 3)
  expect((four?.error ?? NaN) / (one?.error ?? NaN)).toBeCloseTo(0.5, 2)
})
