/** What is known for keying, beside the same computed pixel by pixel in doubles. */

import { key, type FrameRequest } from '../graph/steps'
import type { Window } from '../image/window'
import { backingAt, filmedHair } from '../test/filmed-hair'
import { localEngine } from '../test/local-engine'
import { someFrame } from '../test/steps'
import { lightIn, mostDifference, sameBits } from '../test/windows'
import { cellsFor, softFor } from './kinds/key'
import { frameAtScale, type SourceFrame } from './source-frame'

const { abs, exp, max, min } = Math
const [width, height] = [200, 150]
/** The picture does not begin at 0, 0. */
const frame: Window = { x: -13, y: 7, width, height }
const scene = filmedHair(width, height, 5)
const flat = [0.06, 0.36, 0.09]
const backing = [...flat.flatMap((one) => [one, 0, 0, 0, 0, 0]), 0, 0, 1]

const loading =
  (pictures: Readonly<Record<string, Float32Array>>) =>
  async (request: FrameRequest): Promise<SourceFrame> => {
    const planes = ['R', 'G', 'B', 'A'].map((name, c) => ({
      ...{ name, type: 'float' as const },
      samples: Float32Array.from({ length: width * height }, (_, i) => pictures[request.source][i * 4 + c]),
    }))
    return frameAtScale({ dataWindow: frame, displayWindow: frame, planes }, request)
  }

const read = (source: string) =>
  someFrame({
    ...{ source, path: `${source}.exr`, frameSize: { width, height }, framing: 'file' },
    claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
  })

const engine = (threads = 1) => localEngine(threads, loading({ filmed: scene.filmed, alone }), 64)
const alone = Float32Array.from({ length: width * height * 4 }, (_, i) =>
  i % 4 === 3 ? 1 : backingAt(((i >> 2) % width) + 0.5, Math.floor((i >> 2) / width) + 0.5, i % 4, frame),
)

const known = (around: number, softened: number, at: Window = frame, withClean = false, threads = 1) =>
  engine(threads).light(
    key(read('filmed'), withClean ? read('alone') : null, { channel: 1, backing, around, softened, cut: null }),
    at,
  )

/** A Gaussian mean of what a function says of pixels; beyond the picture it goes on, or counts as nothing. */
function softly(of: (i: number) => number, sigma: number, x: number, y: number, goesOn: boolean): number {
  const reach = Math.ceil(4 * sigma)
  let [sum, weights] = [0, 0]
  for (let j = y - reach; j <= y + reach; j++)
    for (let i = x - reach; i <= x + reach; i++) {
      const weight = exp(-((i - x) ** 2 + (j - y) ** 2) / (2 * sigma * sigma))
      weights += weight
      const [u, v] = [min(max(i, 0), width - 1), min(max(j, 0), height - 1)]
      if (goesOn || (u === i && v === j)) sum += weight * of(v * width + u)
    }
  return sum / weights
}

const stands = flat[1] - max(flat[0], flat[2])
const excess = (i: number) => scene.filmed[4 * i + 1] - max(scene.filmed[4 * i], scene.filmed[4 * i + 2])
const sureness = (i: number) => min(1, max(0, (1 - excess(i) / stands - 0.9) * 10))

/** Coverage by colour difference with what is in front known from the pixel alone. */
function covered(i: number): number {
  const [e, weight] = [excess(i), sureness(i)]
  const front = min(e, stands * 0.2) * min(weight * 1000, 1)
  const near = (stands - e) / (stands - (weight > 0 ? front : 0))
  const surely = min(1, max(0, (weight - 0.8) * 5))
  return min(1.5, max(-0.5, near + surely * (min(1 - e / stands, 1) - near)))
}

test('what is surely in front, and its excess, are the means of a Gaussian about each pixel', async () => {
  const found = await known(6, 1.5)
  const soft = (of: (i: number) => number, x: number, y: number) => softly(of, 6, x, y, false)
  let [offLight, offSure, many] = [0, 0, 0]
  // How far what was found lies from where it ought to, across and down, by least squares.
  const [moved, steep] = [
    [0, 0],
    [0, 0],
  ]
  for (let y = 2; y < height - 30; y += 3)
    for (let x = 1; x < width; x += 5) {
      const at = (y * width + x) * 4
      const off = found[at + 2] - soft(sureness, x, y)
      offLight += abs(found[at + 1] - soft((i) => excess(i) * sureness(i), x, y))
      offSure += abs(off)
      many++
      const slopes = [
        (soft(sureness, x + 1, y) - soft(sureness, x - 1, y)) / 2,
        (soft(sureness, x, y + 1) - soft(sureness, x, y - 1)) / 2,
      ]
      slopes.forEach((slope, axis) => {
        moved[axis] += off * slope
        steep[axis] += slope * slope
      })
    }
  // Half of the rows are looked at, over cells of four pixels: single pixels at an edge are off by 0.06.
  expect(offLight / many).toBeLessThan(0.0005)
  expect(offSure / many).toBeLessThan(0.006)
  for (const axis of [0, 1]) expect(abs(moved[axis] / steep[axis])).toBeLessThan(0.12)
})

test.each([
  [1.5, 0.005],
  [1.2, 0.001],
  [0.75, 0.001],
])(
  'coverage softened over %s px is the Gaussian mean of what is wanting to the backing, going on beyond the picture',
  async (sigma, off) => {
    const found = await known(0, sigma)
    let [sum, many] = [0, 0]
    // Whether it lies where it ought to, across and down, by least squares.
    const [moved, steep] = [
      [0, 0],
      [0, 0],
    ]
    for (let y = 3; y < height - 3; y += 5)
      for (let x = 0; x < width; x += 3) {
        const ought = softly(covered, sigma, x, y, true)
        const difference = found[(y * width + x) * 4] - ought
        ;[sum, many] = [sum + abs(difference), many + 1]
        const slopes = [
          (softly(covered, sigma, x + 1, y, true) - softly(covered, sigma, x - 1, y, true)) / 2,
          (softly(covered, sigma, x, y + 1, true) - softly(covered, sigma, x, y - 1, true)) / 2,
        ]
        slopes.forEach((slope, axis) => {
          moved[axis] += difference * slope
          steep[axis] += slope * slope
        })
      }
    expect(sum / many).toBeLessThan(off)
    for (const axis of [0, 1]) expect(abs(moved[axis] / steep[axis])).toBeLessThan(0.03)
  },
)

test('what is the same everywhere stays what it is when softened, to the last bit of 16', async () => {
  for (const [light, ought] of [
    [[0.2, 0.2, 0.2], 1],
    [flat, 0],
  ] as const) {
    const even = Float32Array.from({ length: width * height * 4 }, (_, i) =>
      i % 4 === 3 ? 1 : Math.fround(light[i % 4]),
    )
    const step = key(read('filmed'), null, { channel: 1, backing, around: 0, softened: 1.5, cut: null })
    const found = await localEngine(1, loading({ filmed: even }), 64).light(step, frame)
    let most = 0
    for (let i = 0; i < found.length; i += 4) most = max(most, abs(found[i] - ought))
    expect(most).toBeLessThanOrEqual(1 / 8192 / 2)
  }
})

test.each([0, 1, 2.9, 3, 6, 11, 24, 200])(
  'around %d px any part is that part of the whole, bit for bit',
  async (around) => {
    const whole = await known(around, 1.5)
    for (const part of [
      { x: -13, y: 7, width: 5, height: 3 },
      { x: 8, y: 61, width: 61, height: 50 },
      { x: 50, y: 33, width: 137, height: 124 },
    ])
      expect(mostDifference(lightIn(whole, frame, part), await known(around, 1.5, part))).toBe(0)
  },
)

test('what was cut out of any part is that part of the whole, with light without coverage beside it', async () => {
  const pixels = scene.filmed.slice()
  // A flare that covers nothing, where the backing is seen alone.
  for (let x = 4; x < 9; x++) for (let c = 0; c < 4; c++) pixels[(20 * width + x) * 4 + c] = c === 3 ? 0 : 0.5
  // And what is no number, inside and outside of what is in front.
  for (const [x, y] of [
    [100, 90],
    [103, 90],
    [60, 45],
  ])
    pixels[(y * width + x) * 4] = NaN
  for (const shows of ['all', 'figure', 'shadow'] as const)
    for (const spill of [0, 1]) {
      const cut = { clear: 0.03, solid: 0.05, spill, toMean: false, shows }
      const step = key(read('filmed'), null, { channel: 1, backing, around: 6, softened: 1.5, cut })
      const made = (at: Window) => localEngine(1, loading({ filmed: pixels }), 64).light(step, at)
      const whole = await made(frame)
      if (shows !== 'shadow')
        for (let x = 4; x < 9; x++)
          expect([...whole.slice((20 * width + x) * 4, (20 * width + x) * 4 + 4)]).toEqual([0.5, 0.5, 0.5, 0])
      for (const part of [
        { x: -9, y: 8, width: 5, height: 31 },
        { x: 8, y: 61, width: 61, height: 50 },
        { x: 51, y: 33, width: 136, height: 124 },
      ])
        expect(sameBits(lightIn(whole, frame, part), await made(part))).toBe(true)
    }
})

test('leaving out blocks of nothing changes no bit: with light without coverage on every row none is left out', async () => {
  const lit = scene.filmed.slice()
  for (let y = 0; y < height; y++) lit.set([0.3, 0.3, 0.3, 0], y * width * 4)
  const of = (pixels: Float32Array) => {
    const cut = { clear: 0.03, solid: 0.05, spill: 1, toMean: false, shows: 'all' } as const
    const step = key(read('filmed'), null, { channel: 1, backing, around: 6, softened: 1.5, cut })
    return localEngine(1, loading({ filmed: pixels }), 64).light(step, frame)
  }
  const [found, whole] = [await of(scene.filmed), await of(lit)]
  const away = { ...frame, x: frame.x + 40, width: width - 40 }
  expect(sameBits(lightIn(found, frame, away), lightIn(whole, frame, away))).toBe(true)
})

test('two threads give the same bits, with the backing as a surface and filmed alone', async () => {
  for (const clean of [false, true])
    expect(sameBits(await known(6, 1.5, frame, clean, 2), await known(6, 1.5, frame, clean))).toBe(true)
})

test('a backing filmed alone that is the surface tells what the surface tells', async () => {
  const even = alone.map((_, i) => (i % 4 === 3 ? 1 : Math.fround(flat[i % 4])))
  const found = localEngine(1, loading({ filmed: scene.filmed, alone: even }), 64)
  const step = key(read('filmed'), read('alone'), { channel: 1, backing, around: 6, softened: 1.5, cut: null })
  expect(mostDifference(await found.light(step, frame), await known(6, 1.5))).toBeLessThan(1e-5)
})

test('a picture without anything is told to be nothing; what is no number stays at its pixel, seen or not', async () => {
  const empty = localEngine(1, loading({ filmed: new Float32Array(width * height * 4) }), 64)
  const step = key(read('filmed'), null, { channel: 1, backing, around: 6, softened: 1.5, cut: null })
  expect((await empty.light(step, frame)).every((one) => one === 0)).toBe(true)
  const broken = scene.filmed.slice()
  for (const [x, y] of [
    [100, 75],
    [30, 10],
  ])
    broken[(y * width + x) * 4 + 1] = NaN
  const cut = { clear: 0.02, solid: 0.05, spill: 1, toMean: false, shows: 'all' } as const
  const of = (pixels: Float32Array) =>
    localEngine(1, loading({ filmed: pixels }), 64).light(
      key(read('filmed'), null, { channel: 1, backing, around: 6, softened: 1.5, cut }),
      frame,
    )
  const [found, sound] = [await of(broken), await of(scene.filmed)]
  let wrong = 0
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4
      const own = broken[at + 1] !== broken[at + 1]
      if (found.subarray(at, at + 4).some((one) => one !== one) !== own) wrong++
      // Further away than it is softened, and a cell, all is as it was.
      if (Math.hypot(x - 100, y - 75) > 32 && Math.hypot(x - 30, y - 10) > 32 && found[at] !== sound[at]) wrong++
    }
  expect(wrong).toBe(0)
})

test('cells are no wider than a sigma has room for, and cells and what is left spread as much as was asked for', () => {
  for (const sigma of [0, 0.4, 1, 2.99, 3, 6, 11.9, 12, 47, 200]) {
    const { cell, weights } = cellsFor(sigma)
    expect(cell === 1 || sigma / cell >= 1.5).toBe(true)
    const moment = weights.reduce((sum, weight, k) => sum + 2 * weight * k * k, 0)
    const spread = cell === 1 ? moment : (moment + 1 / 4) * cell * cell
    // Tails that hardly count are left out.
    if (sigma >= 0.4) expect(Math.sqrt(spread) / sigma).toBeGreaterThan(0.95)
    expect(Math.sqrt(spread)).toBeLessThan(sigma * 1.001 + 1e-9)
    expect(weights.reduce((sum, weight, k) => sum + (k === 0 ? weight : 2 * weight), 0)).toBeCloseTo(1, 12)
  }
})

test('coverage is softened over two by two pixels only where a sigma has room for it, by weights that sum to all', () => {
  for (const sigma of [0.1, 0.375, 0.75, 1.2, 1.42, 1.5, 3]) {
    const { cell, across, radius, down } = softFor(sigma)
    expect(cell).toBe(sigma < 1.42 ? 1 : 2)
    expect(across).toHaveLength(2 * radius + 1)
    for (const weights of [across, ...down.map((one) => one.weights)])
      expect(abs(weights.reduce((sum, one) => sum + one, 0) - 32768)).toBeLessThanOrEqual(1)
    expect(down).toHaveLength(cell)
    // The rows of pixels of a cell are softened about their own middles, half a pixel above and below the cell's.
    down.forEach(({ weights, first }, row) => {
      const middle = weights.reduce((sum, one, t) => sum + (one * (first + t)) / 32768, 0)
      expect(middle * cell).toBeCloseTo(cell === 1 ? 0 : row - 0.5, 3)
    })
  }
})
