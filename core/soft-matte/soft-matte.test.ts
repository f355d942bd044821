import { errorInBand, hairOutdoors } from '../test/hair-outdoors'
import { randomOf } from '../test/random'
import { ownLight } from './own-light'
import { softCoverage } from './soft-coverage'
import { NothingToGoByError, softMatte } from './soft-matte'

const [width, height] = [96, 64]

/** Two even colours, mixed by a slope across the middle. */
function slope(noise = 0) {
  const { normal } = randomOf(3)
  const alpha = Float32Array.from({ length: width * height }, (_, i) =>
    Math.min(1, Math.max(0, ((i % width) - 36 + 2 * Math.sin(i / 700)) / 24)),
  )
  const [front, back] = [
    [0.5, 0.2, 0.1],
    [0.05, 0.15, 0.3],
  ]
  const planes = [0, 1, 2].map((c) => alpha.map((a) => a * front[c] + (1 - a) * back[c] + noise * normal()))
  const known = alpha.map((_, i) => (i % width < 32 ? 0 : i % width >= 64 ? 1 : NaN))
  return { alpha, front, planes: planes as [Float32Array, Float32Array, Float32Array], known }
}

test('between two colours coverage is how much of each is in a pixel', () => {
  const { alpha, planes, known } = slope()
  const found = softCoverage({ width, height, planes }, known, { noise: 1e-4 })
  found.forEach((a, i) => expect(Math.abs(a - alpha[i])).toBeLessThan(0.01))
})

test('what is known is kept as it is', () => {
  const { planes, known } = slope(0.01)
  const found = softCoverage({ width, height, planes }, known, { noise: 0.01 })
  known.forEach((value, i) => {
    if (value === value) expect(found[i]).toBe(value)
    expect(found[i]).toBeGreaterThanOrEqual(0)
    expect(found[i]).toBeLessThanOrEqual(1)
  })
})

test('the figure’s own light is that of what is in front, not of what is behind', () => {
  const { alpha, front, planes } = slope()
  const own = ownLight({ width, height, planes }, alpha)
  for (let i = 0; i < alpha.length; i++)
    if (alpha[i] > 0.1) for (let c = 0; c < 3; c++) expect(Math.abs(own[c][i] - front[c])).toBeLessThan(0.03)
})

test('hair before a patched wall: coverage is off by less than a twentieth in the mean, and hardly changes with the noise', () => {
  const scene = hairOutdoors(240, 136, 1)
  const found = softCoverage(scene, scene.known, { noise: 0.004 })
  expect(errorInBand(scene, found)).toBeLessThan(0.055)
  const again = hairOutdoors(240, 136, 1, 0.004, 2, 7)
  const other = softCoverage(again, again.known, { noise: 0.004 })
  let [sum, count] = [0, 0]
  scene.known.forEach((value, i) => {
    if (value === value) return
    sum += (found[i] - other[i]) ** 2
    count++
  })
  expect(Math.sqrt(sum / count / 2)).toBeLessThan(0.02)
})

describe('a figure out of its picture', () => {
  const { planes, known, alpha, front } = slope()
  const light = new Float32Array(width * height * 4)
  alpha.forEach((_, i) => light.set([planes[0][i], planes[1][i], planes[2][i], 1], 4 * i))
  const inside = known.map((value) => (value === 1 ? 1 : 0))
  const outside = known.map((value) => (value === 0 ? 1 : 0))

  test('is premultiplied: its own bits inside, nothing outside, no fringe of the old background between', () => {
    const { light: out, band } = softMatte({ width, height, light, inside, outside })
    expect(band).toBeCloseTo(1 / 3, 2)
    for (let i = 0; i < alpha.length; i++) {
      const pixel = [...out.subarray(4 * i, 4 * i + 4)]
      if (known[i] === 0) expect(pixel).toEqual([0, 0, 0, 0])
      else if (known[i] === 1) expect(pixel).toEqual([...light.subarray(4 * i, 4 * i + 4)])
      else for (let c = 0; c < 3; c++) expect(Math.abs(pixel[c] - alpha[i] * front[c])).toBeLessThan(0.02)
    }
  })

  test('of a picture that is itself transparent it is transparent', () => {
    const half = light.map((value) => value / 2)
    const whole = softMatte({ width, height, light, inside, outside }).light
    const { light: out } = softMatte({ width, height, light: half, inside, outside })
    for (let i = 3; i < out.length; i += 4) expect(Math.abs(out[i] - whole[i] / 2)).toBeLessThan(0.02)
  })

  test.each([
    ['nothing inside', { inside: inside.map(() => 0) }, 'Nothing is surely inside'],
    ['nothing outside', { outside: outside.map(() => 0) }, 'Nothing is surely outside'],
    [
      'a band over most of the frame',
      { inside: inside.map((v, i) => (i % width > 90 ? v : 0)) },
      /\d+ % of the frame is unsure, and at most 50 % can be/,
    ],
  ])('%s is said', (_name, given, sentence) => {
    const make = () => softMatte({ width, height, light, inside, outside, ...given })
    expect(make).toThrow(NothingToGoByError)
    expect(make).toThrow(sentence)
  })

  test('what is called both inside and outside is not known', () => {
    const both = inside.map((value, i) => (i % width > 80 ? 1 : value))
    expect(softMatte({ width, height, light, inside: both, outside }).band).toBeCloseTo(1 / 3, 2)
    const torn = outside.map((value, i) => (i % width > 80 ? 1 : value))
    expect(softMatte({ width, height, light, inside, outside: torn }).band).toBeGreaterThan(0.4)
  })
})
