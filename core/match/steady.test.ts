import { steadyPlaces, steadyVerdicts } from './steady'
import { randomOf } from '../test/random'

/** What goes on evenly, and what stands out. */

const frames = 24
/** A slow course with noise. */
const course = (sigma: number, seed = 1) => {
  const { normal } = randomOf(seed)
  return Array.from({ length: frames }, (_, i) => 0.04 + 0.0004 * i + sigma * normal())
}
const driftsOf = (values: readonly (number | null)[], tolerance: number) =>
  steadyVerdicts(values, tolerance).flatMap((one, i) => (one?.verdict === 'drifts' ? [i] : []))

test('a slow course agrees, whatever its slope', () => {
  const found = steadyVerdicts(course(0.0002), 0.002)
  expect(found.every((one) => one?.verdict === 'agrees')).toBe(true)
})

test.each([[[7]], [[7, 8]], [[12, 13, 14]], [[0]], [[23]]])(
  'frames %j that step by three tolerances drift, and no others',
  (bad) => {
    const values = course(0.0002).map((value, i) => (bad.includes(i) ? value + 0.006 : value))
    expect(driftsOf(values, 0.002)).toEqual(bad)
  },
)

test('a step that stays drifts where it happens', () => {
  const values = course(0.0002).map((value, i) => (i >= 12 ? value + 0.012 : value))
  const found = driftsOf(values, 0.002)
  expect(found).toContain(11)
  expect(found).toContain(12)
})

test('a course that bends agrees where it bends, up or down, once or twice', () => {
  const bent = (at: number, by: number) => course(0.0002).map((value, i) => value + by * Math.max(0, i - at))
  for (const by of [0.004, -0.004, 0.008])
    for (const at of [8, 12, 15]) expect(driftsOf(bent(at, by), 0.002)).toEqual([])
  const twice = bent(8, 0.004).map((value, i) => value - 0.004 * Math.max(0, i - 16))
  expect(driftsOf(twice, 0.002)).toEqual([])
})

test('a frame that stands out where the course bends is found', () => {
  const values = course(0.0002).map((value, i) => value + 0.003 * Math.max(0, i - 12) + (i === 12 ? 0.008 : 0))
  expect(driftsOf(values, 0.002)).toEqual([12])
})

test('where everything is noisy nothing is judged that may be noise', () => {
  const found = steadyVerdicts(course(0.003), 0.002)
  expect(found.filter((one) => one?.verdict === 'drifts')).toEqual([])
  expect(found.filter((one) => one?.verdict === 'not judged').length).toBeGreaterThan(12)
})

test('of 5,000 sound readings at most five drift', () => {
  let drifting = 0
  for (let seed = 1; seed <= 209; seed++) drifting += driftsOf(course(0.0006, seed), 0.002).length
  expect(drifting).toBeLessThanOrEqual(5)
})

test('frames without a value have no verdict, and too few frames say nothing', () => {
  const values = course(0.0001).map((value, i) => (i === 5 ? null : value))
  expect(steadyVerdicts(values, 0.002)[5]).toBeNull()
  expect(steadyVerdicts([1, 2, 3], 0.002)).toEqual([null, null, null])
  // A frame says nothing of itself.
  expect(steadyVerdicts([1, 2, 3, 4], 0.002)).toEqual([null, null, null, null])
})

describe('places', () => {
  /** A swing that dies away. */
  const swing = Array.from({ length: frames }, (_, i) => 20 * Math.exp(-i / 20) * Math.cos(i / 4))

  test('a swing goes on evenly', () => {
    expect(steadyPlaces(swing, 0.4).every((one) => one === null || one.verdict === 'agrees')).toBe(true)
  })

  test('one frame a pixel off drifts, and its neighbours do not', () => {
    const jumped = swing.map((place, i) => (i === 9 ? place + 1 : place))
    const found = steadyPlaces(jumped, 0.4).flatMap((one, i) => (one?.verdict === 'drifts' ? [i] : []))
    expect(found).toEqual([9])
  })
})
