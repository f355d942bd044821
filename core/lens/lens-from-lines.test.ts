import { bent } from '../motion/lens'
import { randomOf } from '../test/random'
import { bowOf, lensFromLines, LinesTellNothingError, unbent, type Line } from './lens-from-lines'
import {
  cornersOff,
  cornersOffAsTold,
  folding,
  foldOverCorner,
  frame,
  knownLenses,
  lensOf,
  linesThrough,
} from './test/known-lenses'

describe('a lens from lines that ought to be straight', () => {
  it('is tried on one that folds where it is said to', () => {
    expect(foldOverCorner(folding, frame)).toBeCloseTo(1.2, 3)
  })

  it.each(knownLenses)(
    '$name is found: lines it has not seen bow by 0.2 px at most, corners lie within 0.3 px',
    ({ truth }) => {
      const found = lensFromLines(linesThrough(truth, 11), { frame, squeeze: truth.squeeze })
      const unseen = linesThrough(truth, 99, 8, 0)
      expect(Math.max(...unseen.map((line) => bowOf(found.lens, line)))).toBeLessThanOrEqual(0.2)
      expect(cornersOff(found.lens, truth)).toBeLessThanOrEqual(0.3)
    },
  )

  it('takes no more numbers than the lines tell', () => {
    expect(lensFromLines(linesThrough(lensOf({}), 3), { frame }).told).toEqual([])
    expect(lensFromLines(linesThrough(lensOf({ k1: -0.1 }), 3), { frame }).told).toEqual(['k1'])
  })

  it('says how much the lines bow, in pixels of the plate', () => {
    const truth = lensOf({ k1: -0.1 })
    const found = lensFromLines(linesThrough(truth, 5), { frame })
    for (const { before, after } of found.bows) expect(after).toBeLessThan(Math.max(0.25, before))
    expect(found.rms).toBeGreaterThan(0.03)
    expect(found.rms).toBeLessThan(0.07)
    expect(found.heldOutBow).toBeLessThan(0.3)
    // A line along the upper edge: straight in the world it is lowest in its middle, k1 r2 at the ends and in the middle.
    const edge: Line = Array.from({ length: 41 }, (_unused, i) => bent(truth, [32 * i, 20]))
    const [middle, end] = [edge[20][1], edge[0][1]]
    expect(bowOf(unbent({ frame }), edge) / Math.abs(end - middle)).toBeGreaterThan(0.4)
    expect(bowOf(truth, edge)).toBeLessThan(1e-6)
  })

  it('measures in pixels of the plate, also where the lens draws things together', () => {
    const truth = lensOf({ k1: -0.12 })
    // Near the upper left corner, where a pixel of the plate is more than one of the straight picture.
    const line = Array.from({ length: 41 }, (_, i) => bent(truth, [-100 + 4 * i, -60 + 6 * i]))
    const [before, there, after] = [line[19], line[20], line[21]]
    const along = Math.hypot(after[0] - before[0], after[1] - before[1])
    const [nx, ny] = [-(after[1] - before[1]) / along, (after[0] - before[0]) / along]
    const pushed = line.map((place, i) => (i === 20 ? ([there[0] + nx, there[1] + ny] as const) : place))
    expect(bowOf(truth, pushed)).toBeGreaterThan(0.9)
    expect(bowOf(truth, pushed)).toBeLessThan(1.05)
  })

  it('chooses the lines that are straight in the world, and leaves out those that are not', () => {
    const truth = lensOf({ k1: -0.12, k2: 0.02 })
    const arcs = [0, 1, 2].map((n): Line => {
      const radius = 500 + 100 * n
      return Array.from({ length: 41 }, (_, i) => {
        const angle = 0.5 + i * 0.03 + n
        return [640 + radius * Math.cos(angle), 360 + radius * Math.sin(angle) * 0.5] as const
      })
    })
    const straight = linesThrough(truth, 8)
    const found = lensFromLines([...arcs, ...straight], { frame, choose: true })
    expect(found.used).toEqual(straight.map((_, i) => i + 3))
    expect(cornersOff(found.lens, truth)).toBeLessThanOrEqual(0.3)
  })

  it('leaves no line of a grid out that a lens bends a little: its outermost tell most', () => {
    const truth = lensOf({ k1: -0.018, k2: 0.0013, centre: [643.5, 357.75] })
    const { normal } = randomOf(2)
    const along = (of: (t: number) => readonly [number, number]): Line =>
      Array.from({ length: 32 }, (_, i) => {
        const [x, y] = bent(truth, of(i / 31))
        return [x + 0.05 * normal(), y + 0.05 * normal()] as const
      })
    const lines = [
      ...Array.from({ length: 11 }, (_, i) => along((t) => [20 + 1240 * t, 40 + 64 * i])),
      ...Array.from({ length: 20 }, (_, i) => along((t) => [32 + 64 * i, 20 + 680 * t])),
    ]
    expect(lensFromLines(lines, { frame, choose: true }).used).toHaveLength(lines.length)
  })

  it('leaves tangential terms alone unless asked, and finds them when asked', () => {
    const truth = lensOf({ k1: -0.1, p1: 0.01, p2: -0.008 })
    const lines = linesThrough(truth, 21, 24)
    const plain = lensFromLines(lines, { frame })
    expect([plain.lens.p1, plain.lens.p2]).toEqual([0, 0])
    const asked = lensFromLines(lines, { frame, tangential: true })
    const unseen = linesThrough(truth, 98, 8, 0)
    expect(Math.max(...unseen.map((line) => bowOf(asked.lens, line)))).toBeLessThan(0.2)
  })

  it('is refused with a sentence where lines tell nothing', () => {
    const two: Line = [
      [0, 0],
      [100, 0],
    ]
    expect(() => lensFromLines([], { frame })).toThrow(LinesTellNothingError)
    expect(() => lensFromLines([two, two, two], { frame })).toThrow('No line has 3 places')
    expect(() => lensFromLines([two, linesThrough(lensOf({}), 1)[0]], { frame })).toThrow('Only one line')
  })
})

test('what lines cannot tell is left out of the judgement: the centre of a lens that hardly bends', () => {
  const truth = lensOf({ k1: -0.12, k2: 0.02, centre: [1280 * 0.53, 720 * 0.47] })
  expect(cornersOffAsTold(truth, truth)).toBeLessThan(1e-6)
  // A bend that is wrong by a little is seen all the same.
  expect(cornersOffAsTold({ ...truth, k1: -0.118 }, truth)).toBeGreaterThan(0.3)
  const told = lensFromLines(linesThrough(truth, 1), { frame })
  expect(cornersOffAsTold(told.lens, truth)).toBeLessThanOrEqual(0.3)
})
