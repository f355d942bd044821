import { randomOf } from '../test/random'
import { elementFacts, outlineExcess, shadowDepth } from './element-facts'

/** What is measured of an element on a frame, on pictures whose answers are known. */

const window = { x: -10, y: 5, width: 40, height: 30 }

/** A disc of light about a place, its outline a pixel wide; RGBA. */
function disc({ dx = 0, light = [0.2, 0.1, 0.05], ring = 0 } = {}): Float32Array {
  const { uniform } = randomOf(1)
  const out = new Float32Array(window.width * window.height * 4)
  for (let i = 0; i < window.width * window.height; i++) {
    const distance = Math.hypot((i % window.width) - 19.5 - dx, Math.floor(i / window.width) - 14.5)
    const alpha = Math.min(1, Math.max(0, 10.5 - distance))
    const texture = 1 + 0.6 * (uniform() - 0.5)
    const rim = alpha > 0 && alpha < 1 ? ring : 0
    out.set([...light.map((value) => value * alpha * texture + rim), alpha], 4 * i)
  }
  return out
}

test('mean, blacks and the middle are those of what it covers wholly, where the window lies', () => {
  const facts = elementFacts(disc(), window)
  expect(facts.centre?.x).toBeCloseTo(window.x + 20, 1)
  expect(facts.centre?.y).toBeCloseTo(window.y + 15, 1)
  expect(facts.mean?.[0]).toBeCloseTo(0.2, 2)
  expect((facts.mean?.[0] ?? 0) / (facts.mean?.[1] ?? 1)).toBeCloseTo(2, 5)
  expect(facts.black?.[0]).toBeLessThan(0.15)
  expect(facts.area).toBeGreaterThan(facts.covered)
})

test('light is measured straight where it covers a hair less than wholly', () => {
  const even = (alpha: number) =>
    new Float32Array(disc().length).map((_, i) => (i % 4 === 3 ? alpha : alpha * [0.2, 0.1, 0.05][i % 4]))
  const [whole, less] = [elementFacts(even(1), window).mean, elementFacts(even(0.985), window).mean]
  expect((less?.[0] ?? NaN) / (whole?.[0] ?? NaN)).toBeCloseTo(1, 5)
})

test('moved by a fraction of a pixel, its middle moves by that', () => {
  const [still, moved] = [elementFacts(disc(), window), elementFacts(disc({ dx: 0.4 }), window)]
  expect((moved.centre?.x ?? 0) - (still.centre?.x ?? 0)).toBeCloseTo(0.4, 1)
  expect(moved.print).not.toBe(still.print)
})

test('the same light has the same print, and one changed bit another', () => {
  const again = disc()
  expect(elementFacts(again, window).print).toBe(elementFacts(disc(), window).print)
  const bits = new Uint32Array(again.buffer)
  bits[4 * 600] ^= 1
  expect(elementFacts(again, window).print).not.toBe(elementFacts(disc(), window).print)
})

test('softened, there is less fine detail', () => {
  const sharp = disc()
  const soft = sharp.slice()
  for (let i = 4; i + 4 < sharp.length; i++) soft[i] = (sharp[i - 4] + 2 * sharp[i] + sharp[i + 4]) / 4
  const [a, b] = [elementFacts(sharp, window).fine, elementFacts(soft, window).fine]
  expect((b ?? NaN) / (a ?? NaN)).toBeLessThan(0.8)
})

test('nothing, light without coverage, and what is no number: nothing is measured of it', () => {
  const nothing = elementFacts(new Float32Array(disc().length), window)
  expect([nothing.mean, nothing.black, nothing.fine, nothing.centre]).toEqual([null, null, null, null])
  const glow = disc().map((value, i) => (i % 4 === 3 ? 0 : value))
  expect(elementFacts(glow, window).mean).toBeNull()
  const broken = disc()
  broken[4 * 600] = NaN
  expect(elementFacts(broken, window).mean?.every(Number.isFinite)).toBe(true)
})

test('a shadow is as deep as it was made, per unit of its matte', () => {
  const matte = disc({ light: [1, 1, 1] })
  const plate = new Float32Array(matte.length).fill(0.3)
  const made = (of: Float32Array, depth: number) =>
    plate.map((value, i) => (i % 4 === 3 ? 1 : value * (1 - of[i] * depth)))
  expect(shadowDepth(made(matte, 0.4), plate, matte, () => true)).toBeCloseTo(0.4, 4)
  expect(shadowDepth(made(matte, 0.4), plate, new Float32Array(matte.length), () => true)).toBeNull()
  // In colour, each channel is beside its own matte: of a lamp that has next to no blue as well.
  const coloured = disc({ light: [0.24, 0.15, 0.02] })
  for (const depth of [0.9, 0.8])
    expect(shadowDepth(made(coloured, depth), plate, coloured, () => true)).toBeCloseTo(depth, 4)
  const faint = disc({ light: [0.03, 0.03, 0.03] })
  expect(shadowDepth(made(faint, 0.4), plate, faint, () => true)).toBeNull()
})

test('a light line about an outline stands out above, a dark one below, and an outline without one does not', () => {
  const over = (ring: number) => {
    const cover = disc({ ring })
    const seen = cover.map((value, i) => (i % 4 === 3 ? 1 : value + (1 - cover[i - (i % 4) + 3]) * 0.12))
    return outlineExcess(seen, cover, window) ?? NaN
  }
  expect(Math.abs(over(0))).toBeLessThan(0.03)
  expect(over(0.2)).toBeGreaterThan(0.2)
  expect(over(-0.1)).toBeLessThan(-0.1)
})
