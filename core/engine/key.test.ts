/** What is known for keying, beside the same computed pixel by pixel in doubles. */

import { key, type FrameRequest } from '../graph/steps'
import type { Window } from '../image/window'
import { backingAt, filmedHair } from '../test/filmed-hair'
import { localEngine } from '../test/local-engine'
import { someFrame } from '../test/steps'
import { lightIn, mostDifference, sameBits } from '../test/windows'
import { cellsFor } from './kinds/key'
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
    key(read('filmed'), withClean ? read('alone') : null, { channel: 1, backing, around, softened }),
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

test('what is surely in front, and its excess, are the means of a Gaussian about each pixel', async () => {
  const found = await known(6, 1.5)
  const soft = (of: (i: number) => number, x: number, y: number) => softly(of, 6, x, y, false)
  let [offLight, offSure, many] = [0, 0, 0]
  // How far what was found lies from where it ought to, across and down, by least squares.
  const [moved, steep] = [
    [0, 0],
    [0, 0],
  ]
  for (let y = 2; y < height - 30; y += 4)
    for (let x = 1; x < width; x += 5) {
      const at = (y * width + x) * 4
      const off = found[at + 3] - soft(sureness, x, y)
      offLight += abs(found[at + 2] - soft((i) => excess(i) * sureness(i), x, y))
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

test('coverage is what is wanting to the backing, and the second plane is that, softened and going on beyond the picture', async () => {
  const found = await known(0, 1.5)
  const covered = (i: number) => found[4 * i]
  let most = 0
  for (let y = 0; y < height; y += 6)
    for (let x = 0; x < width; x += 7)
      most = max(most, abs(found[(y * width + x) * 4 + 1] - softly(covered, 1.5, x, y, true)))
  expect(most).toBeLessThan(0.01)
  // Where the backing is seen alone it is noise about nothing.
  let [sum, many] = [0, 0]
  scene.alpha.forEach((a, i) => {
    if (a === 0 && i < width * 20) [sum, many] = [sum + 1 - excess(i) / stands - covered(i), many + 1]
  })
  expect(abs(sum / many)).toBeLessThan(1e-6)
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

test('two threads give the same bits, with the backing as a surface and filmed alone', async () => {
  for (const clean of [false, true])
    expect(sameBits(await known(6, 1.5, frame, clean, 2), await known(6, 1.5, frame, clean))).toBe(true)
})

test('a backing filmed alone that is the surface tells what the surface tells', async () => {
  const even = alone.map((_, i) => (i % 4 === 3 ? 1 : Math.fround(flat[i % 4])))
  const found = localEngine(1, loading({ filmed: scene.filmed, alone: even }), 64)
  const step = key(read('filmed'), read('alone'), { channel: 1, backing, around: 6, softened: 1.5 })
  expect(mostDifference(await found.light(step, frame), await known(6, 1.5))).toBeLessThan(1e-5)
})

test('a picture without anything is told to be nothing, and a number that is none stays where it is', async () => {
  const empty = localEngine(1, loading({ filmed: new Float32Array(width * height * 4) }), 64)
  const step = key(read('filmed'), null, { channel: 1, backing, around: 6, softened: 1.5 })
  expect((await empty.light(step, frame)).every((one) => one === 0)).toBe(true)
  const broken = scene.filmed.slice()
  const at = (75 * width + 100) * 4
  broken[at + 1] = NaN
  const found = await localEngine(1, loading({ filmed: broken }), 64).light(step, frame)
  expect(found[at]).toBeNaN()
  // What is surely in front is softened over four cells and lies between two: not 28 px away.
  expect(found[at + 4 * 28]).not.toBeNaN()
  expect(found[at + 4 * width * 60 + 2]).not.toBeNaN()
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
