import { decode, encode, whiteMatrix, whiteOf, type Matrix } from '../colour'
import { constant } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { surroundings } from '../test/steps'
import { treatments, type ParameterValues, type PictureTreatment, type Surroundings, type TreatmentKind } from '.'

/** Each colour move on a flat colour, beside what the words on its card say. */

const window = { x: 0, y: 0, width: 300, height: 150 }
type Pixel = readonly [number, number, number, number]

async function moved(
  kind: TreatmentKind,
  values: ParameterValues,
  pixel: Pixel,
  given: Partial<Surroundings> = {},
  at = { x: 150, y: 75 },
) {
  const step = (treatments[kind] as PictureTreatment).build(constant(pixel, window), values, surroundings(given))
  return [...(await localEngine(1).light(step, { ...at, width: 1, height: 1 }))]
}
const transformed = (matrix: Matrix, light: readonly number[]) =>
  matrix.map((row) => row.reduce((sum, value, c) => sum + value * light[c], 0))
const near = (values: readonly number[], digits = 5) => values.map((value) => expect.closeTo(value, digits))

test('a stop of exposure doubles the light of its channel; coverage stays', async () => {
  expect(await moved('exposure', { stops: [1, 0, -2] }, [0.2, 0.2, 0.2, 0.5])).toEqual(near([0.4, 0.2, 0.05, 0.5]))
  // Light without coverage too.
  expect(await moved('exposure', { stops: [1, 1, 1] }, [0.2, 0, 0, 0])).toEqual(near([0.4, 0, 0, 0]))
})

test('contrast leaves its pivot and doubles the distance from it in stops', async () => {
  const values = { contrast: [2, 2, 2], pivot: [0.18] }
  expect(await moved('contrast', values, [0.18, 0.36, 0.09, 1])).toEqual(near([0.18, 0.72, 0.045, 1]))
  expect(await moved('contrast', values, [0.09, 0.18, 0.045, 0.5])).toEqual(near([0.09, 0.36, 0.0225, 0.5]))
})

test('hard light of a code value with itself: squares twice below a half, the complement above; above 1 nothing', async () => {
  const through = (code: number) => (code <= 0.5 ? 2 * code * code : 1 - 2 * (1 - code) ** 2)
  const light = (code: number) => decode('srgb', code)
  const given = { choices: { encoding: 'srgb' } }
  expect(await moved('hard-light', { amount: [1] }, [light(0.3), light(0.7), 3, 1], given)).toEqual(
    near([light(through(0.3)), light(through(0.7)), 3, 1], 4),
  )
  const half = await moved('hard-light', { amount: [0.5] }, [light(0.3), 0, 0, 1], given)
  expect(encode('srgb', half[0])).toBeCloseTo((0.3 + through(0.3)) / 2, 3)
})

test('channels are made of others, of luma, of coverage', async () => {
  const choices = { red: 'blue', green: 'coverage', blue: 'nothing' }
  expect(await moved('channel-copy', {}, [0.1, 0.2, 0.3, 0.5], { choices })).toEqual(near([0.3, 0.5, 0, 0.5]))
  const grey = await moved('channel-copy', {}, [0.1, 0.2, 0.3, 1], {
    choices: { red: 'luma', green: 'luma', blue: 'luma' },
  })
  expect(grey).toEqual(near([...[0, 1, 2].map(() => 0.2126 * 0.1 + 0.7152 * 0.2 + 0.0722 * 0.3), 1], 4))
})

test('a clamp holds straight colour, exactly, and makes no light where there is none', async () => {
  const values = { least: [0.1], most: [0.6] }
  expect(await moved('clamp', values, [0.02, 0.3, 5, 1])).toEqual([0.1, 0.3, 0.6, 1].map(Math.fround))
  expect(await moved('clamp', values, [0.02, 0.2, 5, 0.5])).toEqual(near([0.05, 0.2, 0.3, 0.5], 7))
  expect(await moved('clamp', values, [0, 0.5, 5, 0])).toEqual([0, 0.5, 0.6, 0].map(Math.fround))
  expect(treatments.clamp.fault?.({ least: [0.7], most: [0.6] }, { choices: {}, points: [] })?.what).toMatch(/lowest/)
})

describe('white balance', () => {
  const planckian = { choices: { locus: 'planckian' } }
  /** A grey card as it is seen under a light, by a camera that is balanced for 6,500 K. */
  const card = (kelvin: number) => {
    const matrix = whiteMatrix(whiteOf(6500, 'planckian'), whiteOf(kelvin, 'planckian'), 'rec709')
    return [...transformed(matrix, [0.4, 0.4, 0.4]), 1] as unknown as Pixel
  }

  test('what was lit by lamps looks lit by 6,500 K: the card is grey', async () => {
    const warm = card(3200)
    expect(warm[0]).toBeGreaterThan(warm[2] * 1.5)
    expect(await moved('white-balance', { from: [3200], to: [6500] }, warm, planckian)).toEqual(
      near([0.4, 0.4, 0.4, 1], 4),
    )
  })

  test('mixed light: each picked white is grey where it was picked, and between them something between', async () => {
    const [warm, cool] = [card(3000), card(9000)]
    const white = (x: number, colour: Pixel) => ({ values: { x: [x], y: [75], colour: colour.slice(0, 3) } })
    const given = { ...planckian, points: [white(20, warm), white(280, cool)] }
    const values = { from: [6500], to: [6500] }
    const greyness = ([r, g, b]: readonly number[]) => Math.max(r, g, b) / Math.min(r, g, b)
    expect(greyness(await moved('white-balance', values, warm, given, { x: 20, y: 75 }))).toBeLessThan(1.02)
    expect(greyness(await moved('white-balance', values, cool, given, { x: 279, y: 75 }))).toBeLessThan(1.02)
    const middle = await moved('white-balance', values, warm, given, { x: 150, y: 75 })
    expect(greyness(middle)).toBeGreaterThan(1.1)
    expect(greyness(middle)).toBeLessThan(greyness(warm))
  })

  test('daylight below 4,000 K is said to be none', () => {
    const { fault } = treatments['white-balance']
    const given = { choices: { locus: 'daylight' }, points: [] }
    expect(fault?.({ from: [3200], to: [6500] }, given)?.what).toMatch(/daylight below 4000 K/)
    expect(fault?.({ from: [5000], to: [6500] }, given)).toBeNull()
    expect(fault?.({ from: [3200], to: [6500] }, { ...given, choices: { locus: 'planckian' } })).toBeNull()
  })
})

test('a vignette leaves the middle, has its amount at its end, and lies half as far at half scale', async () => {
  const values = { amount: [0.5], from: [0.5], to: [1], x: [0], y: [0] }
  const grey: Pixel = [0.4, 0.4, 0.4, 1]
  const at = (x: number, y: number) => moved('vignette', values, grey, {}, { x, y })
  expect((await at(150, 75))[0]).toBe(Math.fround(0.4))
  expect((await at(0, 0))[0]).toBeCloseTo(0.2, 2)
  // Half-way between 0.5 and 1 of the way to a corner: half the amount.
  const way = 0.75 * Math.hypot(150, 75)
  expect((await at(Math.round(150 - way + 0.5) - 1, 75))[0]).toBeCloseTo(0.3, 2)
  const half = surroundings({ scale: 2, frame: { x: 0, y: 0, width: 150, height: 75 } })
  const shifted = { ...values, x: [60] }
  const step = (treatments.vignette as PictureTreatment).build(
    constant(grey, { x: 0, y: 0, width: 150, height: 75 }),
    shifted,
    half,
  )
  const dark = await localEngine(1).light(step, { x: 0, y: 37, width: 150, height: 1 })
  const reds = [...dark.filter((_, i) => i % 4 === 0)]
  const bright = reds.flatMap((v, x) => (v === Math.fround(0.4) ? [x] : []))
  expect((bright[0] + bright[bright.length - 1]) / 2).toBeCloseTo(75 + 30 - 0.5, 0)
})

test('two points of a curve on one place are said', () => {
  const point = (at: number) => ({ set: 'red', values: { in: [at], out: [0.5] } })
  const fault = treatments.curves.fault?.({}, { choices: {}, points: [point(0.3), point(0.3)] })
  expect(fault?.what).toBe('has two points on one place of red')
  expect(treatments.curves.fault?.({}, { choices: {}, points: [point(0.3), point(0.4)] })).toBeNull()
})
