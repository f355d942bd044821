import type { Matrix3 } from '../graph/steps'
import { throughMatrix } from '../motion/mapping'
import { alignedRegion, pictureFor, regionOf } from './aligned-region'
import { regionModels } from './pattern-models'
import type { Plane } from './spline'
import { boundOf, cornerError, found, identity, inside, motions, near, pictureOf, side } from './test/moved-region'

/** A region on texture with a closed form, moved as is known, found again beside the bound that noise sets. */

test.each(regionModels)(
  '%s without noise: found from a pixel off, to two hundredths of one, with its gain',
  (model) => {
    for (let seed = 1; seed <= 4; seed++) {
      const one = found(seed, model, near(model), { gain: 1.3 })
      expect(cornerError(model, one?.matrix ?? identity)).toBeLessThan(0.02)
      expect(one?.gain).toBeCloseTo(1.3, 1)
      expect(one?.agrees).toBeGreaterThan(0.8)
    }
  },
)

test('a fifth of it covered by something else counts for nothing, and it says how much agrees', () => {
  const covered = (x: number) => x > 80 && x < 98
  for (let seed = 1; seed <= 4; seed++) {
    const one = found(seed, 'homography', near('homography'), { noise: 0.02, covered })
    expect(cornerError('homography', one?.matrix ?? identity)).toBeLessThan(0.05)
    expect(one?.agrees).toBeLessThan(0.82)
  }
})

test('what is flat, too small, or elsewhere is not found', () => {
  const flat: Plane = { values: new Float64Array(side * side).fill(0.3), width: side, height: side }
  const region = regionOf(flat, inside, 'affine')
  expect(region && alignedRegion(region, pictureFor(region, flat), identity)).toBeNull()
  expect(regionOf(pictureOf(1, identity, 1), (x, y) => x < 3 && y < 3, 'translation')).toBeNull()
  const real = regionOf(pictureOf(1, identity, 1), inside, 'translation')
  if (!real) throw new Error('There is no region.')
  const beyond: Matrix3 = [1, 0, 90, 0, 1, 0, 0, 0, 1]
  expect(alignedRegion(real, pictureFor(real, pictureOf(1, beyond, 2)), beyond)).toBeNull()
})

test('in noise, 30 % lighter and a fifth covered, the corners of a homography are within 1.5 of the bound', () => {
  const [noise, gain] = [0.1, 1.3]
  let [squares, bounds] = [0, 0]
  for (let seed = 1; seed <= 5; seed++) {
    const one = found(seed, 'homography', near('homography'), { noise, gain, covered: (x) => x > 80 && x < 98 })
    if (!one) throw new Error(`Seed ${seed} was not found.`)
    squares += cornerError('homography', one.matrix) ** 2
    bounds += boundOf(seed, noise, gain) ** 2
  }
  expect(Math.sqrt(squares / bounds)).toBeLessThan(1.5)
})

test.each(['homography', 'translation'] as const)(
  '%s: the stated errors of its corners are what they are off by, over 12 textures',
  (model) => {
    let [squares, count] = [0, 0]
    for (let seed = 1; seed <= 12; seed++) {
      const one = found(seed, model, near(model), { noise: 0.1 })
      for (const [x, y] of [
        [20, 24],
        [100, 24],
        [100, 96],
        [20, 96],
      ]) {
        const { across, down } = one?.errorAt(x, y) ?? { across: 0, down: 0 }
        const [a, b] = [one?.matrix ?? identity, motions[model]].map((m) => throughMatrix(m, x, y) as [number, number])
        squares += ((a[0] - b[0]) / across) ** 2 + ((a[1] - b[1]) / down) ** 2
        count += 2
      }
    }
    // Of so many errors that lie together by fours, the root of the mean square is known to a tenth.
    expect(Math.sqrt(squares / count)).toBeGreaterThan(0.75)
    expect(Math.sqrt(squares / count)).toBeLessThan(1.3)
  },
)
