import { lineOverPixels, type ObjectSeen } from './line-over-pixels'
import { randomOf } from '../test/random'

/** A chart of flat patches and a ball that is shaded, rendered, and photographed with a gain and a veil that are known, in grain. */

const truth = { gain: [1.3, 1.12, 0.96], veil: [0.022, 0.025, 0.031] }
const window = { x: -5, y: 17, width: 42, height: 30 }
const { width, height } = window
const pixels = width * height

const chartAt = (x: number, y: number, c: number) =>
  0.005 + 0.1 * (((7 * ((x / 7) | 0) + 5 * ((y / 7) | 0) + 3 * c) % 11) / 11)
const ballAt = (x: number, y: number, c: number) => (0.02 + 0.01 * c) * (1 + Math.sin(x / 9) * Math.cos(y / 7))

interface Shown {
  readonly object?: string
  /** of the grain, in a light of 0.1 */
  readonly sigma?: number
  readonly seed?: number
  /** of what the photograph shows, as a factor */
  readonly material?: (x: number, y: number) => number
  readonly coverage?: number
  /** how far to the left the photograph lies, in pixels, 0 to 1 */
  readonly slipped?: number
}

function shown({
  object = 'chart',
  sigma = 0,
  seed = 1,
  material = () => 1,
  coverage = 1,
  slipped = 0,
}: Shown): ObjectSeen {
  const { normal } = randomOf(seed)
  const [sharp, seen] = [new Float32Array(4 * pixels), new Float32Array(4 * pixels)]
  for (let i = 0; i < pixels; i++) {
    const [x, y] = [i % width, (i / width) | 0]
    const inside = x > 1 && y > 1 && x < width - 2 && y < height - 2
    for (let c = 0; c < 3; c++) {
      const lightAt = object === 'chart' ? chartAt : ballAt
      const light = lightAt(x, y, c)
      const lies = light + slipped * (lightAt(x + 1, y, c) - light)
      const true_ = truth.veil[c] + truth.gain[c] * lies * material(x, y)
      sharp[4 * i + c] = inside ? light * coverage : 0
      // What lies around it is another thing.
      seen[4 * i + c] = inside ? true_ + sigma * Math.sqrt(true_ / 0.1) * (sigma > 0 ? normal() : 0) : 0.5
    }
    sharp[4 * i + 3] = inside ? coverage : 0
  }
  return { sharp, seen, window, object }
}
const shots = (sigma: number, seed: number, more: Shown = {}) =>
  ['ball', 'chart'].flatMap((object, k) =>
    Array.from({ length: 8 }, (_, i) => shown({ object, sigma, seed: 100 * seed + 10 * k + i, ...more })),
  )

test('without grain veil and gain of each channel are found', () => {
  const found = lineOverPixels(shots(0, 1))
  found?.gain.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.gain[c], 5))
  found?.veil.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.veil[c], 6))
  expect(found).not.toBeNull()
})

test('means of cells lie on the same line, wherever the pictures begin', () => {
  for (const x of [-5, -4, 0, 7]) {
    const found = lineOverPixels(
      shots(0, 1).map((one) => ({ ...one, window: { ...one.window, x, y: 3 - x } })),
      2,
    )
    found?.gain.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.gain[c], 5))
    expect(found).not.toBeNull()
  }
})

test('bars of 90 % hold the truth in grain at least so often, and are of use', () => {
  let [held, tried] = [0, 0]
  for (let seed = 1; seed <= 25; seed++) {
    const found = lineOverPixels(shots(0.02, seed))
    for (const what of ['gain', 'veil'] as const)
      found?.[what].forEach(({ value, bar }, c) => {
        tried++
        if (Math.abs(value - truth[what][c]) <= bar) held++
        expect(bar).toBeLessThan(what === 'gain' ? 0.03 : 0.0012)
      })
  }
  expect(tried).toBe(150)
  expect(held / tried).toBeGreaterThan(0.88)
})

test('a place of another material makes it less sure by what it is unlike', () => {
  const bar = (material: Shown['material']) => lineOverPixels(shots(0.005, 3, { material }))?.gain[1].bar ?? NaN
  expect(bar((x, y) => (x > 20 && y < 15 ? 1.15 : 1))).toBeGreaterThan(2 * bar(() => 1))
})

test('where light changes fast a pixel tells less: a photograph that lies half a pixel off does less harm', () => {
  // With all pixels alike it is 0.058, since patches differ so much from each other.

  const found = lineOverPixels(shots(0.002, 5, { slipped: 0.5 }))
  found?.gain.forEach(({ value }, c) => expect(Math.abs(value / truth.gain[c] - 1)).toBeLessThan(0.045))
  expect(found).not.toBeNull()
})

test('what is hidden, or no number, does not count', () => {
  const pictures = shots(0, 1)
  for (const { sharp, seen } of pictures)
    for (let i = 0; i < 12 * width; i++) {
      seen.fill(9, 4 * i, 4 * i + 3)
      if (i < 10 * width) sharp[4 * i + 3] = 0
      else sharp[4 * i] = NaN
    }
  lineOverPixels(pictures)?.gain.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.gain[c], 4))
  expect(lineOverPixels(pictures)).not.toBeNull()
})

test('of a thing that covers half nowhere, of one light only, and of too small a thing nothing is told', () => {
  expect(lineOverPixels(shots(0, 1, { coverage: 0.5 }))).toBeNull()
  expect(
    lineOverPixels(
      shots(0.01, 1).map((one) => ({ ...one, sharp: one.sharp.map((v, i) => (i % 4 < 3 && v > 0 ? 0.1 : v)) })),
    ),
  ).toBeNull()
  const small = { x: 0, y: 0, width: 10, height: 10 }
  const flat = (value: number) =>
    Float32Array.from({ length: 400 }, (_, i) => (i % 4 === 3 ? 1 : value + (i % 40) / 100))
  expect(lineOverPixels([{ sharp: flat(0), seen: flat(0.1), window: small, object: 'ball' }])).toBeNull()
})
