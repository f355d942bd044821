import type { Scale } from '../graph/steps'
import { frameAtScale } from '../engine/source-frame'
import type { FrameRequest } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { lightIn, sameBits } from '../test/windows'
import { edge } from './edge'

type Pixel = readonly [number, number, number, number]
const window = { x: 40, y: 30, width: 120, height: 90 }
const frame = { x: 0, y: 0, width: 300, height: 150 }

const load = (pixel: (x: number, y: number) => Pixel) => async (request: FrameRequest) => {
  const planes = ['R', 'G', 'B', 'A'].map((name, c) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from(
      { length: window.width * window.height },
      (_, i) => pixel(window.x + (i % window.width), window.y + Math.floor(i / window.width))[c],
    ),
  }))
  return frameAtScale({ dataWindow: window, displayWindow: frame, planes }, request)
}

const still = { grow: [0], soften: [0], across: [0], down: [0], inside: [0] }

async function treated(
  values: Partial<typeof still>,
  pixel: (x: number, y: number) => Pixel,
  { at = window, scale = 1 }: { readonly at?: typeof window; readonly scale?: Scale } = {},
) {
  const step = edge.build(
    someFrame({ reduce: scale }),
    { ...still, ...values },
    surroundings({ scale, frame: { ...frame, width: 300 / scale, height: 150 / scale } }),
  )
  const out = await localEngine(1, load(pixel)).light(step, at)
  return (x: number, y: number, c = 3) => out[((y - at.y) * at.width + x - at.x) * 4 + c]
}

/** A half plane to the left of a line through the middle, at an angle, covered as a line crosses pixels. */
const halfPlane = (degrees: number): ((x: number, y: number) => number) => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
  const wide = Math.abs(c) + Math.abs(s)
  return (x, y) => Math.min(1, Math.max(0, 0.5 - ((x + 0.5 - 100) * c + (y + 0.5 - 75) * s) / wide))
}
/** Where a line through the middle, along the normal, meets a half of coverage: pixels from the middle. */
function edgeAt(at: (x: number, y: number) => number, degrees: number): number {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
  const alpha = (t: number) => {
    const [px, py] = [99.5 + t * c, 74.5 + t * s]
    const [x, y] = [Math.floor(px), Math.floor(py)]
    const mix = (a: number, b: number, share: number) => a + (b - a) * share
    return mix(mix(at(x, y), at(x + 1, y), px - x), mix(at(x, y + 1), at(x + 1, y + 1), px - x), py - y)
  }
  let t = -25
  while (t < 25 && alpha(t) > 0.5) t += 0.01
  return t
}

const grey =
  (cover: (x: number, y: number) => number) =>
  (x: number, y: number): Pixel => {
    const a = cover(x, y)
    return [0.2 * a, 0.3 * a, 0.4 * a, a]
  }

describe('grow', () => {
  test.each([
    [0.3, 0],
    [0.3, 45],
    [1, 0],
    [1, 30],
    [1, 45],
    [2.6, 20],
    [2.6, 90],
    [9.5, 65],
    [14.3, 45],
    [-0.4, 0],
    [-0.4, 45],
    [-1.5, 30],
    [-6.2, 75],
    [-12.7, 10],
  ])('by %p px moves an edge at %p degrees by that', async (px, degrees) => {
    const cover = halfPlane(degrees)
    const [before, after] = [await treated({}, grey(cover)), await treated({ grow: [px] }, grey(cover))]
    expect(Math.abs(edgeAt(after, degrees) - edgeAt(before, degrees) - px)).toBeLessThan(0.12)
  })

  test('what it uncovers and what it covers has the colour of the edge, premultiplied', async () => {
    const at = await treated({ grow: [3] }, grey(halfPlane(0)))
    expect(at(102, 75)).toBe(1)
    ;[0.2, 0.3, 0.4].forEach((light, c) => expect(at(102, 75, c)).toBeCloseTo(light, 3))
    const less = await treated({ grow: [-3] }, grey(halfPlane(0)))
    expect([0, 1, 2, 3].map((c) => less(98, 75, c))).toEqual([0, 0, 0, 0])
  })

  test('what lies at the edge of the frame ends there and does not shrink from it', async () => {
    const whole = { x: 0, y: 0, width: 300, height: 150 }
    const step = edge.build(someFrame(), { ...still, grow: [-4] }, surroundings({ beyond: { frame: whole } }))
    const planes = ['R', 'G', 'B', 'A'].map((name) => ({
      name,
      type: 'float' as const,
      samples: new Float32Array(100 * 150).fill(1),
    }))
    const loads = async () => ({
      decoded: false,
      dataWindow: { x: 0, y: 0, width: 100, height: 150 },
      displayWindow: whole,
      planes,
    })
    const out = await localEngine(1, loads).light(step, whole)
    const alpha = (x: number, y: number) => out[(y * 300 + x) * 4 + 3]
    expect([alpha(0, 0), alpha(50, 149), alpha(95, 75), alpha(96, 75)]).toEqual([1, 1, 1, 0])
  })
})

test('a tainted rim gets the colour from further inside, and its coverage keeps its bits', async () => {
  // Blue, with two pixels of green at its edge.
  const cover = halfPlane(0)
  const tainted = (x: number, y: number): Pixel => {
    const a = cover(x, y)
    return x >= 98 ? [0, 0.5 * a, 0, a] : [0, 0, 0.5 * a, a]
  }
  const at = await treated({ inside: [4] }, tainted)
  for (let x = 90; x < 102; x++) {
    expect(at(x, 75)).toBe(Math.fround(cover(x, 75)))
    expect(at(x, 75, 1)).toBeLessThan(0.03 * at(x, 75, 2) + 1e-6)
  }
  // Further inside nothing is changed.
  expect([at(80, 75, 0), at(80, 75, 1), at(80, 75, 2)]).toEqual([0, 0, 0.5])
})

test('shifted coverage moves by a fraction of a pixel, and what lies inside keeps its bits', async () => {
  const at = await treated({ across: [0.25] }, (x, y) => {
    const a = halfPlane(0)(x, y)
    return [0.1 * a + (x % 3) * 0.01 * a, 0.2 * a, 0.3 * a, a]
  })
  let covered = 0
  for (let x = 90; x < 110; x++) covered += at(x, 75)
  expect(covered).toBeCloseTo(10.25, 4)
  expect([0, 1, 2, 3].map((c) => at(70, 75, c))).toEqual([0.1 + 0.01, 0.2, 0.3, 1].map((v) => Math.fround(v)))
})

test('softening widens the edge about its place', async () => {
  const at = await treated({ soften: [2] }, grey(halfPlane(0)))
  expect(at(99, 75) + at(100, 75)).toBeCloseTo(1, 2)
  expect(at(96, 75)).toBeGreaterThan(0.85)
  expect(at(96, 75)).toBeLessThan(0.98)
  expect(at(103, 75, 2) / at(103, 75)).toBeCloseTo(0.4, 3)
})

test('light without coverage stays what it is, beside what grows over it', async () => {
  const at = await treated({ grow: [2] }, (x) => (x < 100 ? [0.2, 0.2, 0.2, 1] : [0.7, 0.6, 0.5, 0]))
  expect([0, 1, 2, 3].map((c) => at(120, 75, c))).toEqual([0.7, 0.6, 0.5, 0].map((v) => Math.fround(v)))
  expect(at(100, 75)).toBe(1)
  expect(at(100, 75, 0)).toBeCloseTo(0.9, 4)
})

test('any part of it has the same bits, and at half scale widths are half', async () => {
  const values = { grow: [2.3], soften: [1], inside: [2] }
  const cover = halfPlane(30)
  const step = edge.build(someFrame(), { ...still, ...values }, surroundings())
  const engine = localEngine(1, load(grey(cover)))
  const whole = await engine.light(step, window)
  const part = { x: 87, y: 61, width: 31, height: 22 }
  expect(sameBits(await localEngine(1, load(grey(cover))).light(step, part), lightIn(whole, window, part))).toBe(true)
  const half = await treated({ grow: [8] }, grey(halfPlane(0)), {
    scale: 2,
    at: { x: 20, y: 15, width: 60, height: 45 },
  })
  expect([half(53, 30), half(54, 30)]).toEqual([1, 0])
})

test('at rest it is its input', () => {
  const input = someFrame()
  expect(edge.build(input, still, surroundings())).toBe(input)
})
