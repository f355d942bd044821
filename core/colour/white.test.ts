import { lumaWeights } from './primaries'
import { chromaticityOf, whiteMatrix, whiteOf } from './white'

test('published whites: illuminant A, D50, D65, D75', () => {
  const close = (x: number, y: number, digits = 3) => [expect.closeTo(x, digits), expect.closeTo(y, digits)]
  expect(whiteOf(2856, 'planckian')).toEqual(close(0.4476, 0.4074))
  expect(whiteOf(5003, 'daylight')).toEqual(close(0.3457, 0.3585))
  expect(whiteOf(6504, 'daylight')).toEqual(close(0.3127, 0.329))
  expect(whiteOf(7504, 'daylight')).toEqual(close(0.299, 0.3149))
  // Planck's law at 1,000 and 10,000 K (CIE 15, table of the Planckian locus).
  expect(whiteOf(1000, 'planckian')).toEqual(close(0.6528, 0.3444))
  expect(whiteOf(10_000, 'planckian')).toEqual(close(0.2807, 0.2884))
})

test('what was white under one light is white under the other, and luma is not lost', () => {
  for (const working of ['rec709', 'acescg', 'rec2020'] as const) {
    const [from, to] = [whiteOf(3200, 'planckian'), whiteOf(6500, 'daylight')]
    const matrix = whiteMatrix(from, to, working)
    const back = whiteMatrix(to, from, working)
    const light = [0.3, 0.3, 0.3] as const
    // Light that looks like the first white: take neutral of the second back to it.
    const neutral = [1, 1, 1].map((_, r) => back[r].reduce((sum, value, c) => sum + value * light[c], 0)) as [
      number,
      number,
      number,
    ]
    const again = matrix.map((row) => row.reduce((sum, value, c) => sum + value * neutral[c], 0))
    again.forEach((value) => expect(value).toBeCloseTo(0.3, 9))
    expect(neutral[0]).toBeGreaterThan(neutral[2])
    const luma = lumaWeights(working).reduce((sum, w, c) => sum + w * neutral[c], 0)
    expect(luma).toBeGreaterThan(0.25)
  }
})

test('a colour’s white is found again; black has none', () => {
  expect(chromaticityOf([1, 1, 1], 'rec709')).toEqual([expect.closeTo(0.3127, 4), expect.closeTo(0.329, 4)])
  expect(chromaticityOf([0, 0, 0], 'rec709')).toBeNull()
})
