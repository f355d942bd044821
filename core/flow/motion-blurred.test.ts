import { MovingDiscs, meanError, type Disc } from '../test/moving-discs'
import { motionBlurred, opticalFlow, type Picture } from '.'

const going = new MovingDiscs([{ at: (time) => [70 + 9.3 * time, 50 - 4.6 * time], radius: 18 }])
const { width, height } = going
const sumOf = (light: Float32Array, channel: number) =>
  light.reduce((sum, one, i) => (i % 4 === channel ? sum + one : sum), 0)

test('the motion of a textured thing is found to a small part of a pixel, nearly everywhere on it', () => {
  const flow = opticalFlow(going.seen(0), going.seen(1))
  const off: number[] = []
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (Math.hypot(x + 0.5 - 70, y + 0.5 - 50) < 16)
        off.push(Math.hypot(flow.across[y * width + x] - 9.3, flow.down[y * width + x] + 4.6))
  off.sort((a, b) => a - b)
  expect(off[off.length >> 1]).toBeLessThan(0.1)
  expect(off[Math.floor(0.95 * off.length)]).toBeLessThan(0.4)
})

test('a thing that goes farther than it is wide is found by way of smaller pictures', () => {
  const fast = new MovingDiscs([{ at: (time) => [90 + 43 * time, 80 + 21 * time], radius: 20 }], 280, 180)
  const flow = opticalFlow(fast.seen(0), fast.seen(1))
  const off: number[] = []
  for (let y = 66; y < 95; y++)
    for (let x = 76; x < 105; x++) off.push(Math.hypot(flow.across[y * 280 + x] - 43, flow.down[y * 280 + x] - 21))
  off.sort((a, b) => a - b)
  expect(off[off.length >> 1]).toBeLessThan(0.2)
})

test('blurred by its motion it is what a shutter would have seen, and no light is lost', () => {
  const blurred = motionBlurred(going.frames, 0.5)
  const truth = going.exposed(0.5)
  expect(meanError(blurred, truth)).toBeLessThan(0.15 * meanError(going.seen(0).light, truth))
  for (const c of [0, 1, 2, 3]) expect(sumOf(blurred, c) / sumOf(truth, c)).toBeCloseTo(1, 2)
})

test('two things that go against each other are each blurred by their own motion', () => {
  const pair = new MovingDiscs([
    { at: (time) => [45 + 6 * time, 50], radius: 15 },
    { at: (time) => [115 - 8 * time, 48 + 3 * time], radius: 17 },
  ])
  const truth = pair.exposed(0.5)
  expect(meanError(motionBlurred(pair.frames, 0.5), truth)).toBeLessThan(0.2 * meanError(pair.seen(0).light, truth))
})

test('what stands still keeps every bit, nothing stays nothing, and a closed shutter changes nothing', () => {
  const resting: Disc = { at: () => [80, 50], radius: 20 }
  const still = new MovingDiscs([resting])
  expect(motionBlurred(still.frames, 0.5)).toEqual(still.seen(0).light)
  const { picture: empty } = new MovingDiscs([]).frames
  expect(motionBlurred({ picture: empty, before: empty, after: empty }, 0.5).every((one) => one === 0)).toBe(true)
  expect(motionBlurred(going.frames, 0)).toEqual(going.seen(0).light)
  expect(motionBlurred({ picture: going.seen(0), before: null, after: null }, 0.5)).toEqual(going.seen(0).light)
})

test('on the first and last frame the motion goes on as on the side that is known', () => {
  const { picture, before, after } = going.frames
  const truth = going.exposed(0.5)
  const sharp = meanError(picture.light, truth)
  expect(meanError(motionBlurred({ picture, before, after: null }, 0.5), truth)).toBeLessThan(0.2 * sharp)
  expect(meanError(motionBlurred({ picture, before: null, after }, 0.5), truth)).toBeLessThan(0.2 * sharp)
})

test('light without coverage moves like anything', () => {
  const uncovered = (light: Float32Array) => light.map((one, i) => (i % 4 === 3 ? 0 : one))
  const glowing = (time: number): Picture => ({ width, height, light: uncovered(going.seen(time).light) })
  const blurred = motionBlurred({ picture: glowing(0), before: glowing(-1), after: glowing(1) }, 0.5)
  const truth = uncovered(going.exposed(0.5))
  expect(meanError(blurred, truth)).toBeLessThan(0.2 * meanError(glowing(0).light, truth))
})
