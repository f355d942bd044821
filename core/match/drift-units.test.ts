import { matrixBetween, primaries, transform } from '../colour'
import { driftUnits } from './drift-units'
import type { Rgb, SideReading } from './side-reading'

const side = (light: Rgb): SideReading => ({ light, error: [0, 0, 0], coverage: 1 })

test('twice the light is one stop, and the same light is none', () => {
  const { stops } = driftUnits(side([0.1, 0.2, 0.3]), side([0.2, 0.2, 0.15]), 'linear-rec709')
  expect(stops).toEqual([1, 0, -1])
})

test('where a side has no light, there is no ratio', () => {
  expect(driftUnits(side([0, 0.2, 0.3]), side([0.2, -0.1, 0.3]), 'linear-rec709').stops).toEqual([NaN, NaN, 0])
})

test('mid grey beside white is a difference of lightness alone: 50 beside 100', () => {
  // CIE 142-2001 with no chroma: 50 / (1 + 0.015 * 25^2 / sqrt(20 + 25^2)).
  const expected = 50 / (1 + (0.015 * 25 ** 2) / Math.sqrt(20 + 25 ** 2))
  const { difference } = driftUnits(side([0.184187, 0.184187, 0.184187]), side([1, 1, 1]), 'linear-rec709')
  expect(difference).toBeCloseTo(expected, 2)
})

test('the same two colours differ by the same in every working space', () => {
  const [plate, element]: Rgb[] = [
    [0.1, 0.12, 0.2],
    [0.11, 0.12, 0.18],
  ]
  const there = matrixBetween(primaries.rec709, primaries.acescg)
  const read = (light: Rgb) => side(transform(there, light))
  expect(driftUnits(read(plate), read(element), 'acescg').difference).toBeCloseTo(
    driftUnits(side(plate), side(element), 'linear-rec709').difference,
    6,
  )
})
