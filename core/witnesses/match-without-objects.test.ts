import type { Rgb, SideReading } from '../match'
import { softnessFrom, veilFrom } from './match-without-objects'
import type { ReadSide } from './read-places'

/** What edges and dark places near by tell where nothing was shot for reference. */

const side = { x: 0, y: 0, width: 16, height: 16 }
const readSide = (steady: SideReading | null, frames: readonly (SideReading | null)[] = [steady]): ReadSide => ({
  ...{ side, frames, steady },
})
const light = (value: Rgb, error = 0): SideReading => ({ light: value, error: [error, error, error], coverage: 1 })
const edge = (sigma: number) => readSide({ ...light([0.1, 0.1, 0.1]), edge: { sigma, error: 0.01 } })

test('softness is what the variance of the plate’s edges has more', () => {
  const found = softnessFrom([0.99, 1, 1.01].map(edge), [0.6, 0.6, 0.6].map(edge))
  if (typeof found === 'string') throw new Error(found)
  expect(found.value).toBeCloseTo(0.8, 6)
  expect(found.bar).toBeGreaterThan(0.005)
  expect(found.bar).toBeLessThan(0.05)
})

test('edges that are unlike each other make it less sure', () => {
  const bar = (spread: number) => {
    const found = softnessFrom([1 - spread, 1, 1 + spread].map(edge), [0.6, 0.6, 0.6].map(edge))
    return typeof found === 'string' ? NaN : found.bar
  }
  expect(bar(0.1)).toBeCloseTo(10 * bar(0.01), 6)
})

test('a render that is no sharper than the plate, and too few edges, are told', () => {
  expect(softnessFrom([0.5, 0.5, 0.5].map(edge), [0.6, 0.6, 0.6].map(edge))).toBe(
    'its own edges are as soft as those of the plate near by',
  )
  expect(softnessFrom([1, 1].map(edge), [0.6, 0.6, 0.6].map(edge))).toMatch(/^too few straight edges/)
})

test('the veil lies between the plate’s darkest place and that less the element’s darkest light', () => {
  const plate = [readSide(light([0.03, 0.04, 0.05])), readSide(light([0.02, 0.03, 0.04]))]
  const own = [readSide(null, [light([0.004, 0.006, 0.008]), light([0.01, 0.01, 0.01]), null])]
  const found = veilFrom(plate, own)
  if (typeof found === 'string') throw new Error(found)
  found.map(({ value }, c) => expect(value).toBeCloseTo([0.018, 0.027, 0.036][c], 9))
  // Whatever the plate's darkest place throws back, nine times in ten it lies within the bar.
  for (const [c, { bar }] of found.entries()) {
    expect(bar).toBeGreaterThan([0.0018, 0.0027, 0.0036][c])
    expect(bar).toBeLessThan([0.002, 0.003, 0.004][c])
  }
})

test('where a place of the element has slid off it, what is left there is not its darkest', () => {
  const plate = [readSide(light([0.02, 0.02, 0.02]))]
  const slid = { ...light([0.0001, 0.0001, 0.0001]), coverage: 0.3 }
  const found = veilFrom(plate, [readSide(null, [light([0.004, 0.004, 0.004]), slid])])
  if (typeof found === 'string') throw new Error(found)
  expect(found[0].value).toBeCloseTo(0.018, 9)
})

test('noise of the plate makes the veil less sure; without a dark place there is none', () => {
  const own = [readSide(null, [light([0, 0, 0])])]
  const found = veilFrom([readSide(light([0.02, 0.02, 0.02], 0.001))], own)
  if (typeof found === 'string') throw new Error(found)
  expect(found[0].bar).toBeCloseTo(0.001645, 9)
  expect(veilFrom([readSide(null)], own)).toBe('no dark place of the plate near by holds still over the frames')
  expect(veilFrom([readSide(light([0.02, 0.02, 0.02]))], [])).toBe('it has no dark place to compare with')
})
