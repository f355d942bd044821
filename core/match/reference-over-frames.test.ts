import { randomOf } from '../test/random'
import { judged } from './reading'
import { referenceOverFrames } from './reference-over-frames'
import { rgbOf, type Rgb, type SideReading } from './side-reading'

/** The plate's side of a witness over frames: noise goes, jumps stay, and nothing is claimed that was not measured. */

const noise = 0.001
const side = (light: Rgb, error = noise, more: Partial<SideReading> = {}): SideReading => ({
  light,
  error: [error, error, error],
  coverage: 1,
  ...more,
})
const grey = (value: number): Rgb => [value, 0.8 * value, 1.2 * value]
const onFrames = (sides: readonly (SideReading | null)[]) => sides.map((one, i) => ({ frame: 1001 + i, side: one }))
/** A course of light, with noise of its stated size. */
const noisy = (course: readonly number[], seed: number) => {
  const { normal } = randomOf(seed)
  return onFrames(course.map((value) => side(rgbOf((c) => grey(value)[c] + noise * normal()))))
}
const steady = (count: number) => new Array<number>(count).fill(0.03)
const greens = (found: readonly (SideReading | null)[]) => found.map((one) => one?.light[1] ?? NaN)

test('of light that stays the mean is read, with the error of a mean', () => {
  const frames = [0.03, 0.0312, 0.0291, 0.0305].map((value) => side(grey(value), 0.001, { freedom: 5 }))
  const found = referenceOverFrames('black', onFrames(frames))
  for (const one of found) {
    expect(one?.light[0]).toBeCloseTo(0.0302, 6)
    expect(one?.error[0]).toBeCloseTo(0.0005, 6)
    expect([one?.over, one?.freedom]).toEqual([4, 20])
  }
})

test('its errors are those it states: over 500 sets of eight frames', () => {
  let [squares, count, alone] = [0, 0, 0]
  for (let seed = 1; seed <= 500; seed++) {
    const frames = noisy(steady(8), seed)
    referenceOverFrames('black', frames).forEach((one) => {
      if (!one) return
      squares += ((one.light[1] - 0.024) / one.error[1]) ** 2
      alone += one.error[1] / noise
      count++
    })
  }
  expect(count).toBe(4000)
  // A little less than 1: where frames differ more than is stated, more is stated.
  expect(Math.sqrt(squares / count)).toBeGreaterThan(0.75)
  expect(Math.sqrt(squares / count)).toBeLessThan(1.1)
  // Of eight frames an eighth of the variance; most of them are kept together.
  expect(alone / count).toBeLessThan(0.5)
})

test('a frame that jumps keeps what it read, and the others do not hear of it', () => {
  const course = steady(12)
  course[5] += 0.02
  for (let seed = 1; seed <= 50; seed++) {
    const frames = noisy(course, seed)
    const found = referenceOverFrames('black', frames)
    expect(found[5]).toBe(frames[5].side)
    greens(found).forEach((green, i) => i !== 5 && expect(Math.abs(green - 0.024)).toBeLessThan(4 * noise))
  }
})

test('a step stays a step, and frames beside it are told by their own side', () => {
  const course = Array.from({ length: 12 }, (_, i) => (i < 6 ? 0.03 : 0.05))
  let worst = 0
  for (let seed = 1; seed <= 50; seed++) {
    const green = greens(referenceOverFrames('mid', noisy(course, seed)))
    for (const i of [5, 6]) worst += Math.abs(green[i] - 0.8 * course[i]) / 100
  }
  // Alone each would be off by 0.8 of an error in the mean.
  expect(worst).toBeLessThan(0.55 * noise)
})

test('where a lamp goes on there is more grain as well, and each level has the error of its own', () => {
  const frames = onFrames(Array.from({ length: 12 }, (_, i) => side(grey(i < 6 ? 0.03 : 0.3), i < 6 ? 0.001 : 0.004)))
  const found = referenceOverFrames('mid', frames)
  expect(found[2]?.error[1]).toBeCloseTo(0.001 / Math.sqrt(6), 6)
  expect(found[9]?.error[1]).toBeCloseTo(0.004 / Math.sqrt(6), 6)
})

test('light that goes up or sways is followed, about as well as by each frame alone', () => {
  for (const course of [
    Array.from({ length: 48 }, (_, i) => 0.03 + 0.0008 * i),
    Array.from({ length: 48 }, (_, i) => 0.05 + 0.004 * Math.sin(i / 5)),
  ]) {
    let sum = 0
    for (let seed = 1; seed <= 20; seed++) {
      const found = greens(referenceOverFrames('black', noisy(course, seed)))
      const off = found.map((green, i) => Math.abs(green - 0.8 * course[i]))
      sum += off.reduce((total, one) => total + one, 0) / 48 / 20
      expect(off.filter((one) => one > 3.5 * noise)).toEqual([])
    }
    // The mean of |error| of one frame alone is 0.8.
    expect(sum).toBeLessThan(0.8 * noise)
  }
})

test('noise that is larger than was stated is taken as large as frames differ', () => {
  const { normal } = randomOf(3)
  const frames = onFrames(Array.from({ length: 40 }, () => side(rgbOf((c) => grey(0.05)[c] + 0.003 * normal()))))
  const found = referenceOverFrames('black', frames)
  // 25 frames at most, of an error of 0.003 each.
  const middle = found[20]?.error[1] ?? 0
  expect(middle).toBeGreaterThan(0.7 * (0.003 / 5))
})

test('where light is another on every frame, each keeps what it read and the error that it stated', () => {
  const { normal } = randomOf(5)
  const frames = onFrames(Array.from({ length: 9 }, () => side(grey(0.05 + 0.02 * normal()), 0.0005)))
  const found = referenceOverFrames('black', frames)
  expect(found.filter((one, i) => one === frames[i].side).length).toBeGreaterThan(6)
  for (const one of found) expect(one?.error[1]).toBeLessThanOrEqual(0.0005)
})

test('without any noise every frame keeps its light', () => {
  const course = [0.03, 0.0301, 0.0302, 0.0303, 0.0304]
  const found = referenceOverFrames('black', onFrames(course.map((value) => side(grey(value), 0))))
  greens(found).forEach((green, i) => expect(green).toBeCloseTo(0.8 * course[i], 9))
  const same = referenceOverFrames('black', onFrames(steady(5).map((value) => side(grey(value), 0))))
  for (const one of same) expect(one?.error.every((error) => error < 1e-8)).toBe(true)
})

test('an edge that could not be told on a frame says nothing on the others, and they tell it', () => {
  const soft = (sigma: number, error: number) => side(grey(0.03), noise, { edge: { sigma, error } })
  const frames = onFrames([soft(0.32, 0.05), soft(0.05, 1e6), soft(0.28, 0.05), soft(0.3, 0.05), side(grey(0.03))])
  const found = referenceOverFrames('sharpness', frames)
  for (const i of [0, 1, 2, 3]) {
    expect(found[i]?.edge?.sigma).toBeCloseTo(0.3, 3)
    expect(found[i]?.edge?.error).toBeLessThan(0.05)
  }
  expect(found[4]?.edge).toBeUndefined()
})

test('shadows and grain likewise; places and flicker never, and what was not read stays away', () => {
  const told = { ratio: [0.5, 0.52, 0.54] as Rgb, error: [0.03, 0.03, 0.03] as Rgb }
  const more = { shadow: told, grain: { sigma: [0.01, 0.01, 0.02] as Rgb, error: [0.002, 0.002, 0.004] as Rgb } }
  const frames = onFrames([side(grey(0.03), noise, more), null, ...steady(7).map(() => side(grey(0.03), noise, more))])
  expect(referenceOverFrames('shadow', frames)[0]?.shadow?.error[0]).toBeCloseTo(0.03 / Math.sqrt(8), 6)
  expect(referenceOverFrames('grain', frames)[0]?.grain?.error[2]).toBeCloseTo(0.004 / Math.sqrt(8), 6)
  expect(referenceOverFrames('black', frames)[1]).toBeNull()
  for (const purpose of ['registration', 'flicker'] as const)
    expect(referenceOverFrames(purpose, frames)).toEqual(frames.map(({ side }) => side))
})

test('what is far away in the shot tells nothing of a frame', () => {
  const far = [1001, 1002, 1050, 1051].map((frame) => ({ frame, side: side(grey(0.03)) }))
  expect(referenceOverFrames('black', far).map((one) => one?.over)).toEqual([2, 2, 2, 2])
})

test('what is too noisy on one frame is judged by all of them, and a wrong on one frame is still found there', () => {
  const { normal } = randomOf(11)
  const plate = onFrames(
    Array.from({ length: 24 }, () =>
      side(
        rgbOf((c) => grey(0.03)[c] + noise * normal()),
        noise,
        { freedom: 40 },
      ),
    ),
  )
  const averaged = referenceOverFrames('black', plate)
  const verdicts = (references: readonly (SideReading | null)[]) =>
    references.map((reference, i) => {
      const adjusted = side(grey(i === 9 ? 0.036 : 0.03), 0)
      return judged({ purpose: 'black' }, { reference, adjusted }).verdict
    })
  const alone = verdicts(plate.map((one) => one.side))
  expect(alone.filter((one) => one === 'not judged').length).toBeGreaterThan(12)
  const together = verdicts(averaged)
  expect(together.filter((one) => one === 'agrees')).toHaveLength(23)
  expect(together[9]).toBe('drifts')
  expect(judged({ purpose: 'black' }, { reference: averaged[9], adjusted: side(grey(0.03), 0) }).over).toBeGreaterThan(
    10,
  )
})
