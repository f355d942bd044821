import { decode, encode } from '../colour'
import { randomOf } from '../test/random'
import type { PairRead } from './pair'
import { toneCurves, type ToneCurves } from './tone-curves'

/** Curves that are known, through pairs that lie on them or about them. */

const srgb = { encode: (light: number) => encode('srgb', light), decode: (code: number) => decode('srgb', code) }
const lights = [0.004, 0.01, 0.02, 0.035, 0.06, 0.1, 0.16, 0.25, 0.4, 0.6]
const pairOf = (light: readonly number[], wanted: readonly number[], error = 1e-6, name = light.join()): PairRead => {
  const side = (values: readonly number[]) => ({
    ...{ light: [values[0], values[1], values[2]] as const, error: [error, error, error] as const, coverage: 1 },
  })
  return { name, purpose: 'mid', reference: side(wanted), adjusted: side(light) }
}
/** Each channel by another power, a veil under all. */
const powers = [0.9, 1, 1.15]
const wantedOf = (light: number) => powers.map((power) => 0.012 + 1.1 * light ** power)
const pairs = lights.map((light) => pairOf([light, light, light], wantedOf(light)))

/** Straight between its points. */
function at(curves: ToneCurves | null, c: number, code: number): number {
  const points = curves?.channels[c] ?? []
  const i = Math.max(
    1,
    points.findIndex((one) => one.in >= code),
  )
  const [a, b] = [points[i - 1], points[i]]
  return a.out.value + ((code - a.in) / (b.in - a.in)) * (b.out.value - a.out.value)
}

test('curves go where the pairs are, each channel its own way, and say what they rest on', () => {
  const found = toneCurves(pairs, srgb)
  expect(found?.rests).toHaveLength(10)
  expect(found?.against).toBeNull()
  for (const light of lights.slice(1, -1))
    wantedOf(light).forEach((wanted, c) =>
      expect(Math.abs(at(found, c, srgb.encode(light)) - srgb.encode(wanted))).toBeLessThan(0.02),
    )
})

test('points rise from 0 to 1: below the darkest pair lies the veil, above the lightest the gain goes on', () => {
  for (const points of toneCurves(pairs, srgb)?.channels ?? []) {
    expect([points[0].in, points[points.length - 1].in]).toEqual([0, 1])
    for (let i = 1; i < points.length; i++) {
      expect(points[i].in).toBeGreaterThan(points[i - 1].in)
      expect(points[i].out.value).toBeGreaterThan(points[i - 1].out.value)
    }
    // Nothing was read there.
    expect(points[0].out.bar).toBe(Infinity)
    expect(points[1].out.bar).toBeLessThan(0.1)
  }
  const [, green = []] = toneCurves(pairs, srgb)?.channels ?? []
  expect(srgb.decode(green[0].out.value)).toBeCloseTo(0.012, 2)
  expect(srgb.decode(green[green.length - 1].out.value)).toBeCloseTo(1.112, 1)
})

test('what is alike already gets curves that change nothing', () => {
  const same = toneCurves(
    lights.map((light) => pairOf([light, light, light], [light, light, light])),
    srgb,
  )
  for (const points of same?.channels ?? [])
    for (const point of points) expect(point.out.value).toBeCloseTo(point.in, 2)
})

test('five pairs are too few, and pairs that are all about as light tell no curve', () => {
  expect(toneCurves(pairs.slice(0, 5), srgb)).toBeNull()
  expect(
    toneCurves(
      Array.from({ length: 8 }, (_, i) => pairOf([0.2, 0.2, 0.2], [0.3, 0.3, 0.3], 0.001, `${i}`)),
      srgb,
    ),
  ).toBeNull()
  const uncovered = pairs.map((one) => ({ ...one, adjusted: { ...one.adjusted, coverage: 0.2 } }))
  expect(toneCurves(uncovered, srgb)).toBeNull()
})

test('a pair of other material is named, and where light falls from pair to pair the curve stays level', () => {
  const [first, ...rest] = pairs
  const other = pairOf([0.12, 0.12, 0.12], [0.5, 0.45, 0.6], 1e-6, 'other')
  expect(toneCurves([first, ...rest, other], srgb)?.against).toBe('other')
  const falling = lights.map((light, i) => pairOf([light, light, light], Array<number>(3).fill(i % 4 < 2 ? 0.2 : 0.1)))
  for (const points of toneCurves(falling, srgb)?.channels ?? [])
    for (let i = 1; i < points.length; i++) expect(points[i].out.value).toBeGreaterThan(points[i - 1].out.value)
})

test('bars of 90 % hold the height of the curve at their points in about nine of ten, where materials are unlike', () => {
  let [held, tried] = [0, 0]
  for (let seed = 1; seed <= 300; seed++) {
    const { normal } = randomOf(seed)
    const unlike = Array.from({ length: 14 }, (_, i) => {
      const light = 0.02 * 1.3 ** i
      const wanted = 1.2 * light
      const seen = wanted + 0.05 * (wanted + 0.01) * normal() + 0.0005 * normal()
      return pairOf([light, light, light], [seen, seen, seen], 0.0005, `${i}`)
    })
    for (const { in: code, out } of toneCurves(unlike, srgb)?.channels[0] ?? []) {
      if (!Number.isFinite(out.bar)) continue
      tried++
      if (Math.abs(out.value - srgb.encode(1.2 * srgb.decode(code))) <= out.bar) held++
    }
  }
  expect(tried).toBe(1500)
  expect(held / tried).toBeGreaterThan(0.86)
  expect(held / tried).toBeLessThan(0.95)
})
