import { pictureOf, type Picture, type Plane } from './picture'
import { scoreFrame } from './score-frame'

const [width, height] = [160, 120]
/** A soft disc of texture on a darker ground. @param shift of the disc to the right and below @param softness of its edge */
function discs(shift: readonly [number, number] = [0, 0], softness = 0.6, gain = 1, noise: () => number = () => 0) {
  const light = new Float32Array(width * height * 4)
  const values = new Float64Array(width * height)
  for (let i = 0; i < values.length; i++) {
    const [x, y] = [(i % width) - 80 - shift[0], Math.floor(i / width) - 60 - shift[1]]
    const cover = 1 / (1 + Math.exp((Math.hypot(x, y) - 40) / softness))
    const texture = 0.35 + 0.08 * Math.sin(x / 5) * Math.cos(y / 7)
    values[i] = cover
    for (let c = 0; c < 3; c++) light[i * 4 + c] = 0.06 * (1 - cover) + texture * gain * (1 - 0.2 * c) * cover + noise()
    light[i * 4 + 3] = 1
  }
  return { picture: pictureOf(light, width, height), coverage: { width, height, values } satisfies Plane }
}
const truth = discs()
const scored = (composite: Picture) => {
  const found = scoreFrame(composite, truth.picture, truth.coverage, { shot: [0, 0, 0], read: [4e-4, 4e-4, 4e-4] })
  if (!found) throw new Error('The disc is not seen.')
  return found
}

test('the true picture differs by nothing', () => {
  const score = scored(truth.picture)
  expect(score.inside).toMatchObject({ median: 0, percentile95: 0 })
  expect(score.inside.pixels).toBeGreaterThan(2000)
  expect(score.similarity).toBeCloseTo(1, 10)
  expect(score.spectrum).toBeCloseTo(0, 6)
  expect(score.edgeSpread).toBeCloseTo(1, 6)
  expect(Math.hypot(score.registration.x, score.registration.y)).toBeLessThan(1e-3)
})

test.each([
  [0.3, 0],
  [-0.7, 0.4],
  [1.5, -1.1],
])('a composite %d to the right and %d below is found there', (x, y) => {
  const { registration } = scored(discs([x, y]).picture)
  expect(registration.x).toBeCloseTo(x, 1)
  expect(registration.y).toBeCloseTo(y, 1)
})

test('a gain is a difference of colour, not of place; ten per cent of light are about four', () => {
  const score = scored(discs([0, 0], 0.6, 1.1).picture)
  expect(score.inside.median).toBeGreaterThan(2)
  expect(score.inside.median).toBeLessThan(5)
  expect(Math.hypot(score.registration.x, score.registration.y)).toBeLessThan(0.05)
})

test('an edge twice as soft is found to be so', () => {
  const { edgeSpread } = scored(discs([0, 0], 1.2).picture)
  expect(edgeSpread).toBeGreaterThan(1.6)
  expect(edgeSpread).toBeLessThan(2.3)
})

test('grain is judged apart: it hardly touches colour, and its strength is found', () => {
  let state = 9
  const uniform = () => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) + 1) / (2 ** 32 + 1)
  const noise = () => 0.02 * Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform())
  const score = scored(discs([0, 0], 0.6, 1, noise).picture)
  expect(score.inside.median).toBeLessThan(0.6)
  for (const ratio of score.grain ?? []) expect(Math.abs(ratio - 1)).toBeLessThan(0.05)
  for (const ratio of scored(truth.picture).grain ?? [1]) expect(ratio).toBeCloseTo(0, 6)
})

test('where the element is not seen there is no score', () => {
  const nothing: Plane = { width, height, values: new Float64Array(width * height) }
  expect(scoreFrame(truth.picture, truth.picture, nothing)).toBeNull()
})
