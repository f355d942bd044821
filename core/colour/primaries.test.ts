import fc from 'fast-check'
import {
  adaptation,
  lumaWeights,
  matrixBetween,
  multiply,
  primaries,
  primariesNamed,
  primariesNames,
  primariesSteps,
  transform,
  workingSpaces,
  xyzFromRgb,
  type Matrix,
} from './primaries'

const expectMatrix = (found: Matrix, expected: readonly (readonly number[])[], within = 1e-5) =>
  expected.forEach((row, r) => row.forEach((value, c) => expect(Math.abs(found[r][c] - value)).toBeLessThan(within)))

test('Rec.709 to XYZ is the matrix of IEC 61966-2-1', () => {
  expectMatrix(
    xyzFromRgb(primaries.rec709),
    [
      [0.4124, 0.3576, 0.1805],
      [0.2126, 0.7152, 0.0722],
      [0.0193, 0.1192, 0.9505],
    ],
    1e-4,
  )
})

test('Rec.709 to Rec.2020 is the matrix of ITU-R BT.2087', () => {
  expectMatrix(
    matrixBetween(primaries.rec709, primaries.rec2020),
    [
      [0.6274, 0.3293, 0.0433],
      [0.0691, 0.9195, 0.0114],
      [0.0164, 0.088, 0.8956],
    ],
    5e-5,
  )
})

test('AP1 to XYZ and to AP0 are the matrices of S-2014-004', () => {
  expectMatrix(xyzFromRgb(primaries.acescg), [
    [0.6624541811, 0.1340042065, 0.156187687],
    [0.2722287168, 0.6740817658, 0.0536895174],
    [-0.0055746495, 0.0040607335, 1.0103391003],
  ])
  expectMatrix(matrixBetween(primaries.acescg, primaries.aces), [
    [0.6954522414, 0.1406786965, 0.1638690622],
    [0.0447945634, 0.8596711185, 0.0955343182],
    [-0.0055258826, 0.0040252103, 1.0015006723],
  ])
})

test('Bradford adaptation takes the one white to the other', () => {
  const [d65, aces] = [primaries.rec709.white, primaries.acescg.white]
  const xyz = ([x, y]: readonly [number, number]) => [x / y, 1, (1 - x - y) / y] as const
  transform(adaptation(d65, aces), xyz(d65)).forEach((v, i) => expect(v).toBeCloseTo(xyz(aces)[i], 10))
})

const name = fc.constantFrom(...primariesNames)

test('white stays white between any two sets, and there and back is where it was', () => {
  fc.assert(
    fc.property(name, name, (a, b) => {
      const there = matrixBetween(primaries[a], primaries[b])
      transform(there, [1, 1, 1]).forEach((v) => expect(v).toBeCloseTo(1, 9))
      const back = multiply(matrixBetween(primaries[b], primaries[a]), there)
      expectMatrix(
        back,
        [
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ],
        1e-9,
      )
    }),
  )
})

test('luma weights sum to 1 and are Rec.709’s and Rec.2020’s', () => {
  for (const one of primariesNames) expect(lumaWeights(one).reduce((a, b) => a + b)).toBeCloseTo(1, 10)
  lumaWeights('rec709').forEach((w, i) => expect(w).toBeCloseTo([0.2126, 0.7152, 0.0722][i], 4))
  lumaWeights('rec2020').forEach((w, i) => expect(w).toBeCloseTo([0.2627, 0.678, 0.0593][i], 4))
})

test('a file’s chromaticities are known by name, rounded as files round them', () => {
  for (const one of primariesNames) {
    const { red, green, blue, white } = primaries[one]
    const rounded = [red, green, blue, white].map(([x, y]) => [Math.fround(x), Math.fround(y)] as const)
    expect(primariesNamed({ red: rounded[0], green: rounded[1], blue: rounded[2], white: rounded[3] })).toBe(one)
  }
  expect(primariesNamed({ ...primaries.rec709, red: [0.65, 0.33] })).toBeNull()
})

test('nothing is computed between a set and itself', () => {
  for (const one of Object.values(workingSpaces)) expect(primariesSteps(one, one)).toEqual([])
})
