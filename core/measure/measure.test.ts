import fc from 'fast-check'
import type { Planes } from '../image/planes'
import { alphaKind } from './alpha-kind'
import { oddValues } from './odd-values'
import { findInRun, type FrameMark } from './run-of-frames'
import { ascending, quantile, samplePixels, valuesOf } from './sample'
import { straightEdge } from './straight-edge'

function planes(
  names: string,
  width: number,
  height: number,
  value: (c: number, x: number, y: number) => number,
): Planes {
  const dataWindow = { x: 10, y: 20, width, height }
  return {
    dataWindow,
    displayWindow: dataWindow,
    planes: [...names].map((name, c) => ({
      name,
      type: 'float' as const,
      samples: Float32Array.from({ length: width * height }, (_, i) => value(c, i % width, Math.floor(i / width))),
    })),
  }
}

describe('odd values', () => {
  test('are counted by kind, and the first is placed', () => {
    const odd = oddValues(
      planes('RGB', 8, 4, (c, x, y) => {
        if (c === 1 && y === 2) return x === 3 || x === 4 ? NaN : 0.5
        if (c === 2 && x === 7 && y === 3) return Infinity
        return c === 0 && y === 1 ? -0.25 : 0.5
      }),
    )
    expect(odd.notNumbers).toEqual({ count: 2, x: 13, y: 22, channel: 'G' })
    expect(odd.infinite).toEqual({ count: 1, x: 17, y: 23, channel: 'B' })
    expect(odd.negative).toEqual({ count: 8, x: 10, y: 21, channel: 'R' })
    expect(odd.negativeShare).toBeCloseTo(8 / 96)
  })

  test('a sound picture has none, and the ringing of a filter is not one', () => {
    expect(oddValues(planes('RGB', 8, 4, () => -0.0005))).toMatchObject({
      notNumbers: null,
      infinite: null,
      negative: null,
    })
  })
})

describe('alpha', () => {
  const disc = (premultiplied: boolean, colour: number) =>
    planes('RGBA', 80, 80, (c, x, y) => {
      const alpha = Math.min(1, Math.max(0, 20 - Math.hypot(x - 40, y - 40)) / 3)
      if (c === 3) return alpha
      return (premultiplied ? alpha : alpha > 0 ? 1 : 0) * colour * (1 + c / 4)
    })

  test('multiplied into colour is told from colour left alone, at any brightness', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 20, noNaN: true }), (colour) => {
        expect(alphaKind(disc(true, colour)).kind).toBe('premultiplied')
        expect(alphaKind(disc(false, colour)).kind).toBe('straight')
      }),
      { numRuns: 8 },
    )
  })

  test('is told though rims are lit otherwise than what lies inside them', () => {
    // Between a quarter and four times as bright, at random.
    const rims = (premultiplied: boolean) =>
      planes('RGBA', 120, 120, (c, x, y) => {
        const alpha = Math.min(1, Math.max(0, 45 - Math.hypot(x - 60, y - 60)) / 3)
        if (c === 3) return alpha
        const lit = alpha > 0 && alpha < 1 ? 2 ** (2 * Math.sin(12.9898 * x + 78.233 * y)) : 1
        return (premultiplied ? alpha : Number(alpha > 0)) * 0.3 * lit
      })
    expect(alphaKind(rims(true)).kind).toBe('premultiplied')
    expect(alphaKind(rims(false)).kind).toBe('straight')
  })

  test('that is full or empty everywhere tells nothing', () => {
    expect(alphaKind(planes('RGBA', 40, 40, (c, x) => (c === 3 ? Number(x > 20) : 0.5))).kind).toBeNull()
    expect(alphaKind(planes('RGB', 40, 40, () => 0.5)).kind).toBeNull()
  })
})

describe('straight edges', () => {
  const edgeOf = (matte: ReturnType<typeof planes>, neutral: 0 | 1) =>
    straightEdge(valuesOf(matte.planes[0]), matte.dataWindow, neutral)
  const soft = (x: number, y: number) => Math.max(0, 0.8 - Math.hypot(x - 60, y - 50) / 40)

  test('a shadow cut along a line is found, whatever the angle, with the ends of the line', () => {
    for (const turn of [0, 0.3, Math.PI / 2, 2.2]) {
      const [across, down] = [Math.cos(turn), Math.sin(turn)]
      const cut = planes('Y', 120, 100, (_c, x, y) => ((x - 60) * across + (y - 50) * down > 6 ? 0 : soft(x, y)))
      const edge = edgeOf(cut, 0)
      expect(edge).not.toBeNull()
      for (const end of [edge?.from, edge?.to])
        expect(Math.abs(((end?.x ?? 0) - 70) * across + ((end?.y ?? 0) - 70) * down - 6)).toBeLessThan(2.5)
    }
  })

  test('a soft shadow and a round one have none', () => {
    expect(
      edgeOf(
        planes('Y', 120, 100, (_c, x, y) => soft(x, y)),
        0,
      ),
    ).toBeNull()
    const round = planes('Y', 120, 100, (_c, x, y) => (Math.hypot(x - 60, y - 50) < 30 ? 0.7 : 0))
    expect(edgeOf(round, 0)).toBeNull()
  })

  test('what is open at 1 is cut where it jumps to 1', () => {
    const cut = planes('Y', 120, 100, (_c, x, y) => (y > 60 ? 1 : 1 - soft(x, y)))
    expect(edgeOf(cut, 1)?.from.y).toBe(80)
  })
})

describe('runs of frames', () => {
  const run = (means: readonly number[]): FrameMark[] =>
    means.map((mean, i) => ({ frame: 1001 + i, digest: `${i}`, mean, most: mean * 4 }))

  test('the same frame twice is found, a still is not', () => {
    const marks = run([0.1, 0.1, 0.1, 0.1])
    expect(findInRun([marks[0], marks[1], { ...marks[2], digest: '1' }, marks[3]]).repeated).toEqual([1003])
    expect(findInRun(marks.map((mark) => ({ ...mark, digest: 'same' }))).repeated).toEqual([])
  })

  test('black frames are found where others are not black', () => {
    expect(findInRun(run([0.1, 0, 0.1])).black).toEqual([1002])
    expect(findInRun(run([0, 0, 0])).black).toEqual([])
  })

  test('a jump of level is found with its size; a slow change is none', () => {
    const found = findInRun(run([0.1, 0.101, 0.1, 0.14, 0.141, 0.14]))
    expect(found.jumps).toEqual([{ frame: 1004, stops: expect.closeTo(Math.log2(1.4), 6) }])
    expect(findInRun(run([0.1, 0.115, 0.13, 0.15, 0.172])).jumps).toEqual([])
  })
})

test('quantiles are those of the sorted values, linear between them', () => {
  const sorted = ascending([3, 1, 2])
  expect([0, 0.25, 0.5, 1].map((share) => quantile(sorted, share))).toEqual([1, 1.5, 2, 3])
  expect(quantile([], 0.5)).toBeNaN()
})

test('a sample is a regular grid of the picture', () => {
  const sample = samplePixels(
    planes('RGB', 100, 50, (c, x, y) => c * 1000 + y * 100 + x),
    50,
  )
  expect([...sample.green.subarray(0, 3)]).toEqual([1000, 1010, 1020])
  expect(sample.count).toBe(50)
  expect(sample.alpha).toBeNull()
})
