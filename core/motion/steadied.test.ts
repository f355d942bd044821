import { throughMatrix } from './mapping'
import { evened, steadied, type Steadying } from './steadied'
import { identity, type Matrix3 } from '../graph/steps'

const middle = [50, 40] as const
const frames = { first: 1, last: 100 }
/** Turned, grown and moved about the middle. */
function moved(x: number, y: number, turn = 0, size = 1): Matrix3 {
  const [c, s] = [size * Math.cos(turn), size * Math.sin(turn)]
  return [
    c,
    -s,
    middle[0] + x - c * middle[0] + s * middle[1],
    s,
    c,
    middle[1] + y - s * middle[0] - c * middle[1],
    0,
    0,
    1,
  ]
}
const steady = (at: (time: number) => Matrix3, changes: Partial<Steadying> = {}) => ({
  ...{ at, frames, middle, smoothing: 0, amount: 1 },
  ...changes,
})
const middleOf = (matrix: Matrix3) => throughMatrix(matrix, ...middle) as [number, number]

describe('a motion that is made steady', () => {
  it('is taken away whole, to the bit, also in perspective, where it is held still', () => {
    const motion: Matrix3 = [1.1, 0.02, 3, -0.01, 0.9, 2, 0.0001, 0.0002, 1]
    expect(
      steadied(
        steady(() => motion),
        7,
      ),
    ).toBe(motion)
    expect(
      steadied(
        steady(() => motion, { amount: 0 }),
        7,
      ),
    ).toBe(identity)
  })

  it('is taken away by half where the amount is a half: half of the way, the turn, and the growth', () => {
    const at = () => moved(6, -4, 0.2, 1.21)
    const found = steadied(steady(at, { amount: 0.5 }), 7)
    moved(3, -2, 0.1, 1.1).forEach((value, i) => expect(found[i]).toBeCloseTo(value, 9))
  })

  it('at one speed is kept by smoothing, up to the ends', () => {
    const at = (time: number) => moved(2 * (time - 1), -time)
    for (const time of [1, 2, 50, 99, 100]) {
      const [x, y] = middleOf(steadied(steady(at, { smoothing: 24 }), time))
      expect(x).toBeCloseTo(middle[0], 6)
      expect(y).toBeCloseTo(middle[1], 6)
    }
  })

  it('that is quick is taken away, and one that is slow is kept', () => {
    const wave = (period: number) => (time: number) => moved(10 * Math.sin((2 * Math.PI * time) / period), 0)
    const taken = (period: number) => {
      const found = Array.from({ length: 60 }, (_, i) => {
        const time = 20 + i
        return middleOf(steadied(steady(wave(period), { smoothing: 24 }), time))[0] - middle[0]
      })
      return Math.sqrt((2 * found.reduce((sum, one) => sum + one * one, 0)) / found.length) / 10
    }
    // What a Gaussian of 24 / sqrt(12) frames leaves of a wave: exp(-2 pi^2 sigma^2 / period^2).
    for (const period of [6, 24, 60])
      expect(taken(period)).toBeCloseTo(1 - Math.exp((-2 * Math.PI ** 2 * (24 * 24)) / 12 / period ** 2), 1)
    expect(taken(6)).toBeGreaterThan(0.99)
    expect(taken(400)).toBeLessThan(0.05)
  })
})

test('evened out, what is no turn, shift or scale stays as it is, and the ends stay where they are', () => {
  const at = (time: number): Matrix3 => [
    1,
    0.02 * time,
    3 * time + (time % 2),
    0,
    1 + 0.01 * time,
    -time,
    1e-4 * time,
    0,
    1,
  ]
  const motion = { at, frames: { first: 0, last: 8 }, middle: [50, 40] as const, smoothing: 4 }
  for (const end of [0, 8])
    evened(motion, end).forEach((one, i) => expect(one / evened(motion, end)[8]).toBeCloseTo(at(end)[i], 6))
  // In between the tremble is gone, the perspective is not.
  const middle = evened(motion, 3)
  expect(middle[6] / middle[8]).toBeGreaterThan(2e-4)
})
