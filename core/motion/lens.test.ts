import fc from 'fast-check'
import { bent, foldRadius, slopesOf, straightener, type Lens } from './lens'

const round: Lens = { centre: [643.5, 357.75], unit: 734, squeeze: 1, k1: -0.05, k2: 0.02, k3: 0, p1: 0, p2: 0 }
const lens: fc.Arbitrary<Lens> = fc.record({
  centre: fc.tuple(fc.double({ min: 560, max: 720, noNaN: true }), fc.double({ min: 300, max: 420, noNaN: true })),
  unit: fc.double({ min: 600, max: 1500, noNaN: true }),
  squeeze: fc.constantFrom(1, 1.33, 2),
  k1: fc.double({ min: -0.03, max: 0.1, noNaN: true }),
  k2: fc.double({ min: -0.005, max: 0.02, noNaN: true }),
  k3: fc.double({ min: -0.001, max: 0.001, noNaN: true }),
  p1: fc.double({ min: -0.005, max: 0.005, noNaN: true }),
  p2: fc.double({ min: -0.005, max: 0.005, noNaN: true }),
})
const place = fc.tuple(fc.double({ min: 0, max: 1280, noNaN: true }), fc.double({ min: 0, max: 720, noNaN: true }))

describe('through a lens', () => {
  it('a place comes to lie where the formula says', () => {
    // (x, y) = (1, 0.5): r2 = 1.25, radial = 1 - 0.1 * 1.25 + 0.02 * 1.5625 = 0.90625
    const one: Lens = { centre: [0, 0], unit: 100, squeeze: 1, k1: -0.1, k2: 0.02, k3: 0, p1: 0.01, p2: -0.02 }
    const [x, y] = bent(one, [100, 50])
    expect(x).toBeCloseTo(100 * (0.90625 + 2 * 0.01 * 0.5 - 0.02 * 3.25), 9)
    expect(y).toBeCloseTo(100 * (0.453125 + 0.01 * 1.75 - 2 * 0.02 * 0.5), 9)
  })

  it('its middle stays, and with a squeeze it is as round as the stretched plate', () => {
    expect(bent(round, round.centre)).toEqual(round.centre)
    const squeezed = { ...round, squeeze: 2 }
    // Half as far across in the plate is as far in what was seen.
    const [x] = bent(squeezed, [round.centre[0] + 200, round.centre[1]])
    const [, y] = bent(squeezed, [round.centre[0], round.centre[1] + 400])
    expect((x - round.centre[0]) * 2).toBeCloseTo(y - round.centre[1], 9)
  })

  it('the way back leads to the place within a millionth of a pixel', () => {
    fc.assert(
      fc.property(lens, place, (one, at) => {
        const straight = straightener(one)(...at)
        fc.pre(straight !== null)
        const again = bent(one, straight as [number, number])
        expect(Math.hypot(again[0] - at[0], again[1] - at[1])).toBeLessThan(1e-6)
      }),
    )
  })

  it('a radius that is right at the first step stays, however far out the fold lies', () => {
    const hardly = {
      centre: [560, 300],
      unit: 600,
      squeeze: 1,
      k1: 0,
      k2: -1.6e-123,
      k3: 8e-273,
      p1: -0.0049,
      p2: 0,
    } as const
    for (const p1 of [-0.0049, 0]) {
      const straight = straightener({ ...hardly, p1 })(0, 0)
      expect(straight).not.toBeNull()
      const again = bent({ ...hardly, p1 }, straight as [number, number])
      expect(Math.hypot(...again)).toBeLessThan(1e-6)
    }
  })

  it('its slopes are those of the places themselves', () => {
    fc.assert(
      fc.property(lens, place, (one, [x, y]) => {
        const [xx, xy, yx, yy] = slopesOf(one, [x, y])
        const step = 1e-3
        const across = [-1, 1].map((sign) => bent(one, [x + sign * step, y]))
        const down = [-1, 1].map((sign) => bent(one, [x, y + sign * step]))
        expect((across[1][0] - across[0][0]) / (2 * step)).toBeCloseTo(xx, 5)
        expect((down[1][0] - down[0][0]) / (2 * step)).toBeCloseTo(xy, 5)
        expect((across[1][1] - across[0][1]) / (2 * step)).toBeCloseTo(yx, 5)
        expect((down[1][1] - down[0][1]) / (2 * step)).toBeCloseTo(yy, 5)
      }),
    )
  })
})

describe('the fold', () => {
  it('lies where places farther out begin to come to lie farther in', () => {
    // r (1 - r2 / 3 R2) turns at R.
    expect(foldRadius({ k1: -1 / (3 * 1.8 ** 2), k2: 0, k3: 0 })).toBeCloseTo(1.8, 9)
    expect(foldRadius({ k1: 0.1, k2: 0, k3: 0 })).toBe(Infinity)
    expect(foldRadius({ k1: 0, k2: 0, k3: 0 })).toBe(Infinity)
    // Down and up again before it turns for good: 1 - t + t2 / 10 - ... has its first zero near 1.127.
    const fold = foldRadius({ k1: -1 / 3, k2: 0.1 / 5, k3: 0 })
    expect(1 - fold ** 2 + 0.1 * fold ** 4).toBeCloseTo(0, 9)
    expect(fold).toBeCloseTo(Math.sqrt((1 - Math.sqrt(0.6)) / 0.2), 9)
  })

  it('is kept out: beyond it no place is seen', () => {
    const folding: Lens = { ...round, k1: -1 / 3, k2: 0 }
    const back = straightener(folding)
    // At the fold, 1 unit out, a place lies two thirds of a unit out.
    expect(back(round.centre[0] + 734 * 0.66, round.centre[1])).not.toBeNull()
    expect(back(round.centre[0] + 734 * 0.67, round.centre[1])).toBeNull()
  })
})
