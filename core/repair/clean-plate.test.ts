import type { Window } from '../image/window'
import { walkingFigure, type WalkingFigure } from '../test/walking-figure'
import { cleanPlate, TooFewFramesError, type FramesToJoin } from './clean-plate'
import { evening } from './evened'
import { joined } from './joined'
import { deviationAt, noiseOverFrames } from './noise-over-frames'
import { randomOf } from '../test/random'

const part = (picture: Float32Array, { width, height }: WalkingFigure, window: Window, scale: number): Float32Array => {
  const out = new Float32Array(window.width * window.height * 4)
  for (let y = 0; y < window.height; y++)
    for (let x = 0; x < window.width; x++)
      for (let c = 0; c < 4; c++) {
        let sum = 0
        for (let j = 0; j < scale; j++)
          for (let i = 0; i < scale; i++) {
            const [px, py] = [(window.x + x) * scale + i, (window.y + y) * scale + j]
            if (px >= 0 && py >= 0 && px < width && py < height) sum += picture[(py * width + px) * 4 + c]
          }
        out[(y * window.width + x) * 4 + c] = sum / scale ** 2
      }
  return out
}

const framesOf = (scene: WalkingFigure, matte = false): FramesToJoin => ({
  frames: scene.frames.map((_, i) => 1001 + i),
  frameSize: scene,
  light: async (frame, window, scale) => part(scene.frames[frame - 1001], scene, window, scale),
  joined: async (samples, noise) => joined(samples, noise),
  covered: async (frame, window) => {
    if (!matte) return null
    const grey = new Float32Array(scene.width * scene.height * 4)
    scene.covered[frame - 1001].forEach((a, i) => grey.fill(a, 4 * i, 4 * i + 4))
    return part(grey, scene, window, 1)
  },
})

/** Root mean square of the error, and the share of pixels whose error, averaged over 3 x 3, is below 0.003. */
function judged({ width, height, wall }: WalkingFigure, light: Float32Array) {
  let [sum, good, all] = [0, 0, 0]
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++)
      for (let c = 0; c < 3; c++) {
        const at = (y * width + x) * 4 + c
        sum += (light[at] - wall[at]) ** 2
        let soft = 0
        for (let j = -1; j <= 1; j++)
          for (let i = -1; i <= 1; i++) soft += (light[at + (j * width + i) * 4] - wall[at + (j * width + i) * 4]) / 9
        all++
        if (Math.abs(soft) < 0.003) good++
      }
  return { rms: Math.sqrt(sum / all), good: good / all }
}

const scene = walkingFigure(160, 90, 3, { frames: 24, sigma: 0.008 })

test('a wall that somebody walks along is had without him, with the noise of so many frames', async () => {
  const { light, count } = await cleanPlate(framesOf(scene), { even: false })
  const { rms, good } = judged(scene, light)
  expect(rms).toBeLessThanOrEqual((1.15 * scene.sigma) / Math.sqrt(24))
  expect(good).toBeGreaterThanOrEqual(0.995)
  // In the corners nobody ever stands: all frames count.
  expect(count[0]).toBeGreaterThanOrEqual(23)
  expect(light.filter((_, i) => i % 4 === 3).every((a) => a === 1)).toBe(true)
})

test('where he stands for half of the time a median shows him, the clean plate does not', async () => {
  const slow = walkingFigure(160, 90, 5, { frames: 24, sigma: 0.006, lingers: 1.1 })
  const { light } = await cleanPlate(framesOf(slow), { even: false })
  const covers = slow.covered.filter((one) => one[55 * 160 + 80] > 0.5).length
  expect(covers).toBeGreaterThanOrEqual(12)
  const median = slow.wall.map((_, i) => slow.frames.map((one) => one[i]).sort((a, b) => a - b)[12])
  expect(judged(slow, median).good).toBeLessThan(0.9)
  expect(judged(slow, light).good).toBeGreaterThan(0.98)
})

test('lamps that flicker and mist that thickens are evened to the first frame', async () => {
  const uneven = walkingFigure(160, 90, 7, {
    frames: 12,
    sigma: 0.004,
    lamps: (f) => [1 + 0.08 * Math.sin(f), 0.006 + 0.006 * Math.cos(f * 2)],
  })
  const { light, evenings } = await cleanPlate(framesOf(uneven), { even: true })
  expect(judged(uneven, light).good).toBeGreaterThan(0.99)
  const plain = await cleanPlate(framesOf(uneven), { even: false })
  expect(judged(uneven, plain.light).good).toBeLessThan(0.9)
  expect(evenings[5][1].gain).toBeCloseTo(1 / (1 + 0.08 * Math.sin(5)), 1)
})

test('what a matte covers is left out, though it never moves', async () => {
  const parked: WalkingFigure = {
    ...scene,
    frames: scene.frames.map((frame) => frame.slice()),
    covered: scene.covered.map((_, f) => Float32Array.from(scene.covered[f])),
  }
  // Something stands at one place on all but four frames.
  parked.frames.forEach((frame, f) => {
    if (f < 4) return
    for (let y = 10; y < 30; y++)
      for (let x = 10; x < 40; x++) {
        frame.set([0.5, 0.4, 0.3], (y * 160 + x) * 4)
        parked.covered[f][y * 160 + x] = 1
      }
  })
  const at = (20 * 160 + 25) * 4
  const without = await cleanPlate(framesOf(parked), { even: false })
  expect(without.light[at]).toBeCloseTo(0.5, 2)
  const { light, count } = await cleanPlate(framesOf(parked, true), { even: false })
  expect(Math.abs(light[at] - scene.wall[at])).toBeLessThan(0.02)
  expect(count[20 * 160 + 25]).toBe(4)
})

test('what no frame shows is empty, not black', async () => {
  const hidden = framesOf({ ...scene, covered: scene.covered.map((one) => one.slice().fill(1, 0, 50)) }, true)
  const { light, count } = await cleanPlate(hidden, { even: false })
  expect([...light.subarray(80, 84)]).toEqual([0, 0, 0, 0])
  expect(count[20]).toBe(0)
})

test('two frames are too few, and that is said', async () => {
  const short = { ...framesOf(scene), frames: [1001, 1002] }
  await expect(cleanPlate(short, { even: false })).rejects.toThrow(TooFewFramesError)
  await expect(cleanPlate(short, { even: false })).rejects.toThrow('at least 3 frames, and there are 2')
})

test('work that is called off ends', async () => {
  const stopping = new AbortController()
  stopping.abort()
  await expect(cleanPlate(framesOf(scene), { even: true, signal: stopping.signal })).rejects.toThrow(/abort/i)
})

test('noise that grows with light is known at each level, whatever moves', () => {
  const { normal, uniform } = randomOf(11)
  const light = Float32Array.from({ length: 40_000 }, (_, i) => 0.02 + 0.4 * (i / 40_000))
  const noisy = () => light.map((v) => v + Math.sqrt(1e-5 + 4e-4 * v) * normal())
  const [a, b] = [noisy(), noisy().map((v) => (uniform() < 0.2 ? v + 0.3 : v))]
  const noise = noiseOverFrames([[a, b]])
  for (const level of [0.06, 0.2, 0.38])
    expect(deviationAt(noise, level) / Math.sqrt(1e-5 + 4e-4 * level)).toBeCloseTo(1, 0)
})

test('noise in both frames does not draw the gain towards 0', () => {
  const { normal, uniform } = randomOf(6)
  const wall = Float32Array.from({ length: 20_000 }, () => 0.2 + 0.03 * uniform())
  const [from, to] = [wall.map((v) => v + 0.006 * normal()), wall.map((v) => v + 0.006 * normal())]
  expect(Math.abs(evening(from, to).gain - 1)).toBeLessThan(0.06)
})

test('gain and veil of a frame are found beside what has moved in a third of it', () => {
  const { normal, uniform } = randomOf(4)
  const to = Float32Array.from({ length: 3000 }, () => 0.02 + 0.4 * uniform())
  const from = to.map((v, i) => (i % 3 === 0 ? uniform() : (v - 0.01) / 1.2) + 0.001 * normal())
  const { gain, veil } = evening(from, to)
  expect(gain).toBeCloseTo(1.2, 1)
  expect(veil).toBeCloseTo(0.01, 2)
})
