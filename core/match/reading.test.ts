import { measureWindow } from '../measure/window-statistics'
import { judged } from './reading'
import { readSide as readWindow, type Rgb, type SideReading } from './side-reading'
import type { PairRead } from './pair'
import { proposeVeilAndGain } from './propose'
import { threeErrors } from './students-t'
import { randomOf } from '../test/random'

/** What a witness reads, and what is proposed from several. */

const region = { x: 12, y: -4, width: 40, height: 30 }

/** A region of light with noise, shaded across, of some coverage. */
function lightOf(rgb: Rgb, sigma: number, { alpha = 1, shading = 0, seed = 1 } = {}): Float32Array {
  const { normal } = randomOf(seed)
  const light = new Float32Array(region.width * region.height * 4)
  for (let i = 0; i < light.length; i += 4) {
    const across = ((i / 4) % region.width) / (region.width - 1) - 0.5
    for (let c = 0; c < 3; c++) light[i + c] = (rgb[c] * (1 + shading * across) + sigma * normal()) * alpha
    light[i + 3] = alpha
  }
  return light
}

const measured = (light: Float32Array) => measureWindow(light, region, { noise: true })
const readSide = (light: Float32Array) => readWindow(measured(light))
const side = (light: Rgb, error = 1e-5, coverage = 1): SideReading => ({
  light,
  error: [error, error, error],
  coverage,
})

test('noise is found in shading, within 5 %, and none where there is none', () => {
  const shaded = lightOf([0.2, 0.1, 0.05], 0.01, { shading: 1.5 })
  for (let c = 0; c < 3; c++) expect((measured(shaded).noise?.[c] ?? NaN) / 0.01).toBeCloseTo(1, 1)
  expect(measured(lightOf([0.2, 0.1, 0.05], 0, { shading: 1.5 })).noise?.[0]).toBeLessThan(1e-6)
})

test('the mean lies within three of its stated errors, a hundred times', () => {
  const { light: truth } = side([0.02, 0.03, 0.05])
  let beyond = 0
  for (let seed = 1; seed <= 100; seed++) {
    const read = readSide(lightOf(truth, 0.004, { seed }))
    if (!read) throw new Error('nothing was read')
    for (let c = 0; c < 3; c++) if (Math.abs(read.light[c] - truth[c]) > 3 * read.error[c]) beyond++
  }
  expect(beyond).toBeLessThanOrEqual(1)
})

test('light is read straight; without coverage, or of no number, nothing is', () => {
  const read = readSide(lightOf([0.4, 0.2, 0.1], 0, { alpha: 0.5 }))
  expect(read?.light[0]).toBeCloseTo(0.4, 6)
  expect(read?.coverage).toBeCloseTo(0.5, 6)
  expect(readSide(lightOf([0.4, 0.2, 0.1], 0, { alpha: 0 }))).toBeNull()
  expect(readSide(new Float32Array(region.width * region.height * 4).fill(NaN))).toBeNull()
})

describe('the verdict', () => {
  const black = { purpose: 'black' } as const
  const at = (by: number, error: number) =>
    judged(black, { reference: side([0.02, 0.02, 0.02], error), adjusted: side([0.02 + by, 0.02, 0.02], 0) })

  test('surely beyond the tolerance it drifts, surely within it agrees, between it is not judged', () => {
    // Usual for black: the larger of 0.002 and 5 % of the light.
    expect(at(0.006, 0.0003).verdict).toBe('drifts')
    expect(at(0.001, 0.0003).verdict).toBe('agrees')
    expect(at(0.0018, 0.0003)).toMatchObject({
      verdict: 'not judged',
      why: expect.stringContaining('too noisy') as string,
    })
    expect(at(0.0025, 0.0003).verdict).toBe('not judged')
  })

  test('a tolerance of its own counts instead', () => {
    expect(
      judged(
        { ...black, tolerance: 0.01 },
        { reference: side([0.02, 0.02, 0.02]), adjusted: side([0.026, 0.02, 0.02]) },
      ).verdict,
    ).toBe('agrees')
  })

  test('for colour brightness does not count, and a cast of 4 % does', () => {
    const colour = { purpose: 'colour' } as const
    expect(judged(colour, { reference: side([0.2, 0.1, 0.05]), adjusted: side([0.8, 0.4, 0.2]) }).verdict).toBe(
      'agrees',
    )
    expect(judged(colour, { reference: side([0.2, 0.1, 0.05]), adjusted: side([0.208, 0.1, 0.05]) })).toMatchObject({
      verdict: 'drifts',
    })
    expect(judged(colour, { reference: side([0.2, 0.1, 0]), adjusted: side([0.2, 0.1, 0.05]) }).why).toMatch(/no light/)
  })

  test('what is not there, or only in part, is not judged, with the reason', () => {
    const plate = side([0.02, 0.02, 0.02])
    expect(judged(black, { reference: null, adjusted: plate }).why).toMatch(/plate/)
    expect(judged(black, { reference: plate, adjusted: null }).why).toBe('the element is not there')
    expect(judged(black, { reference: plate, adjusted: side([0.02, 0.02, 0.02], 0, 0.6) }).why).toMatch(
      /does not cover/,
    )
    expect(judged(black, { reference: side([0.02, 0.02, 0.02], 0, 0.6), adjusted: plate }).why).toMatch(
      /does not reach/,
    )
  })
})

describe('veil and gain', () => {
  const gain: Rgb = [1.3, 1.1, 0.9]
  const veil: Rgb = [0.02, 0.024, 0.03]
  const pair = (name: string, x: number, more: Partial<PairRead> = {}): PairRead => ({
    name,
    purpose: x < 0.01 ? 'black' : 'mid',
    adjusted: side([x, 0.9 * x, 0.7 * x]),
    reference: side([gain[0] * x + veil[0], gain[1] * 0.9 * x + veil[1], gain[2] * 0.7 * x + veil[2]], 1e-4),
    ...more,
  })
  const present = { veil: [0, 0, 0], gain: [1, 1, 1] } as const

  test('are found from a dark, a middle and a light pair, with bars that hold them', () => {
    const found = proposeVeilAndGain([pair('rim', 0.001), pair('side', 0.05), pair('top', 0.4)], present)
    expect(found).toMatchObject({ rests: ['rim', 'side', 'top'], against: null, surer: null })
    for (let c = 0; c < 3; c++) {
      expect(found?.gain[c].value).toBeCloseTo(gain[c], 4)
      expect(found?.veil[c].value).toBeCloseTo(veil[c], 4)
      expect(found?.gain[c].bar).toBeGreaterThan(0.01)
    }
  })

  test('from dark pairs alone the veil, with the gain as it is; it is said what would make it surer', () => {
    const found = proposeVeilAndGain([pair('rim', 0.001), pair('foot', 0.0015)], { ...present, gain })
    expect(found?.veil[0].value).toBeCloseTo(veil[0], 4)
    expect(found?.gain[0]).toEqual({ value: 1.3, bar: 0 })
    expect(found?.surer).toMatch(/add a pair in the light/)
    const light = proposeVeilAndGain([pair('top', 0.4)], { ...present, veil })
    expect(light?.gain[0].value).toBeCloseTo(1.3, 3)
    expect(light?.surer).toMatch(/add a pair for black/)
  })

  test('a pair of other material is named, and widens the bars', () => {
    const sound = ['a', 'b', 'c', 'd', 'e'].map((name, i) => pair(name, 0.002 * 4 ** i))
    const odd = pair('d', 0.002 * 4 ** 3)
    const planted = sound.map((one) =>
      one.name === 'd' ? { ...odd, reference: side(odd.reference.light.map((v) => v * 1.5) as unknown as Rgb) } : one,
    )
    const [before, after] = [proposeVeilAndGain(sound, present), proposeVeilAndGain(planted, present)]
    expect([before?.against, after?.against]).toEqual([null, 'd'])
    expect(after?.gain[0].bar).toBeGreaterThan(1.4 * (before?.gain[0].bar ?? 0))
  })

  test('what the element does not cover does not count', () => {
    const edge = pair('edge', 0.1, { adjusted: side([0.5, 0.5, 0.5], 0, 0.5) })
    expect(proposeVeilAndGain([edge], present)).toBeNull()
    expect(proposeVeilAndGain([edge, pair('rim', 0.001), pair('top', 0.4)], present)?.rests).toEqual(['rim', 'top'])
  })
})

test('of regions that agree, however small, three in three hundred drift at most', () => {
  for (const side of [4, 6, 8, 16]) {
    const { normal } = randomOf(side)
    const small = { x: 3, y: -2, width: side, height: side }
    const read = (level: number, sigma: number) => {
      const light = new Float32Array(side * side * 4)
      for (let i = 0; i < light.length; i += 4) {
        for (let c = 0; c < 3; c++) light[i + c] = level + sigma * normal()
        light[i + 3] = 1
      }
      return readWindow(measureWindow(light, small, { noise: true }))
    }
    let drifts = 0
    for (let i = 0; i < 300; i++) {
      const [reference, adjusted] = [read(0.03, 0.01), read(0.03, 0)]
      if (judged({ purpose: 'black', tolerance: 1e-6 }, { reference, adjusted }).verdict === 'drifts') drifts++
    }
    // Three channels, each beyond three of its errors 2.7 times in a thousand; less, since grain is held to be four pixels large.
    expect([side, drifts <= 3]).toEqual([side, true])
  }
})

test('what lies within three errors that are estimates themselves', () => {
  // Student's t at 0.99865 for 10, 30 and very many degrees of freedom.
  for (const [freedom, expected] of [
    [10, 3.957],
    [30, 3.27],
    [Infinity, 3],
  ])
    expect(Math.abs(threeErrors(freedom) - expected)).toBeLessThan(0.05)
})
