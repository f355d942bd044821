import { frameAtScale, type SourceFrame } from '../engine/source-frame'
import type { FrameRequest } from '../graph/steps'
import type { Window } from '../image/window'
import { backingAt, filmedHair } from '../test/filmed-hair'
import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { lightIn, mostDifference, mostOff } from '../test/windows'
import { backingKey } from './backing-key'
import { backingSurface, surfaceAt } from './backing-surface'
import { treatments, type Surroundings } from '.'

const { abs, max } = Math
const [width, height] = [320, 240]
const frame: Window = { x: 0, y: 0, width, height }
const scene = filmedHair(width, height, 3)
const values = { colour: [0.06, 0.36, 0.09], clear: [0.02], solid: [0.05], spill: [1], around: [6] }
const picks = [0.05, 0.35, 0.65, 0.95].flatMap((u) =>
  [0.05, 0.2, 0.35].map((v) => {
    const [x, y] = [u * width, v * height]
    return { values: { x: [x], y: [y], colour: [0, 1, 2].map((c) => backingAt(x, y, c, frame)) } }
  }),
)

const loading =
  (pixels: Float32Array, window: Window) =>
  async (request: FrameRequest): Promise<SourceFrame> => {
    const planes = ['R', 'G', 'B', 'A'].map((name, c) => ({
      ...{ name, type: 'float' as const },
      samples: Float32Array.from({ length: window.width * window.height }, (_, i) => pixels[i * 4 + c]),
    }))
    return frameAtScale({ dataWindow: window, displayWindow: frame, planes }, request)
  }

function keyed(
  pixels: Float32Array,
  more: Partial<Surroundings> = {},
  given: Partial<typeof values> = {},
  window = frame,
  at = window,
): Promise<Float32Array> {
  const around = surroundings({ frame, choices: { channel: 'green' }, points: picks, ...more })
  const step = backingKey.build(
    someFrame({
      frameSize: { width, height },
      reduce: around.scale as 1,
      claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
    }),
    { ...values, ...given },
    around,
  )
  return localEngine(1, loading(pixels, window), 64).light(step, at)
}

/** Mean error of coverage where it is between 0 and 1, and where it is not. */
function errorsOf(found: Float32Array, alpha = scene.alpha) {
  let [band, inBand, rest, elsewhere] = [0, 0, 0, 0]
  alpha.forEach((a, i) => {
    const off = abs(found[i * 4 + 3] - a)
    if (a > 0.004 && a < 0.996) [band, inBand] = [band + off, inBand + 1]
    else [rest, elsewhere] = [rest + off, elsewhere + 1]
  })
  return { band: band / inBand, elsewhere: rest / elsewhere }
}

test('hair before a backing that is lit unevenly comes out with the coverage that it has', async () => {
  const errors = errorsOf(await keyed(scene.filmed))
  expect(errors.band).toBeLessThan(0.05)
  expect(errors.elsewhere).toBeLessThan(0.003)
})

test('with one colour for all of an uneven backing it is worse, and looking around tells hair that is not neutral', async () => {
  const [even, blind, best] = await Promise.all([
    keyed(scene.filmed, { points: [] }),
    keyed(scene.filmed, {}, { around: [0] }),
    keyed(scene.filmed),
  ])
  expect(errorsOf(even).elsewhere).toBeGreaterThan(errorsOf(best).elsewhere * 2)
  // Coverage of what has less of the backing's channel than it should is taken for more than it is, most where it is nearly full.
  const high = (found: Float32Array) => {
    let [sum, many] = [0, 0]
    scene.alpha.forEach((a, i) => {
      if (a > 0.7 && a < 0.996) [sum, many] = [sum + found[i * 4 + 3] - a, many + 1]
    })
    return sum / many
  }
  expect(high(blind)).toBeGreaterThan(0.03)
  expect(abs(high(best))).toBeLessThan(0.01)
})

test('where the backing is seen alone nothing is left, and what is wholly in front keeps its light but for the spill', async () => {
  const found = await keyed(scene.filmed)
  let [kept, most, left] = [0, 0, 0]
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)]
    if (y < 20) left += found[i * 4 + 3] / (20 * width)
    if (Math.hypot(x - width / 2, y - height * 0.62) > height * 0.15) continue
    expect(found[i * 4 + 3]).toBeGreaterThan(0.995)
    kept++
    // Red is the figure's own; green is held to the larger of the others.
    most = max(most, abs(found[i * 4] - scene.filmed[i * 4]))
    expect(found[i * 4 + 1]).toBeLessThanOrEqual(max(found[i * 4], found[i * 4 + 2]) + 0.02)
  }
  expect(kept).toBeGreaterThan(2000)
  expect(left).toBeLessThan(0.0005)
  expect(most).toBeLessThan(1e-3)
})

test('nothing stays nothing, and light without coverage is kept as it is', async () => {
  const empty = await keyed(new Float32Array(width * height * 4))
  expect(empty.every((v) => v === 0)).toBe(true)
  const flare = Float32Array.from({ length: width * height * 4 }, (_, i) => [0.5, 0.4, 0.3, 0][i % 4])
  expect(Buffer.from((await keyed(flare)).buffer).equals(Buffer.from(flare.buffer))).toBe(true)
})

test('an element that covers a half of everything comes out with half of what it would', async () => {
  const half = scene.filmed.map((v) => v / 2)
  const [found, whole] = await Promise.all([
    keyed(half, {}, { clear: [0], solid: [0] }),
    keyed(scene.filmed, {}, { clear: [0], solid: [0] }),
  ])
  let [off, light] = [0, 0]
  for (let i = 0; i < found.length; i++)
    if (i % 4 === 3) off += abs(found[i] - whole[i] / 2) / (found.length / 4)
    else light += abs(found[i] - whole[i] / 2) / (found.length / 4)
  expect(off).toBeLessThan(0.01)
  expect(light).toBeLessThan(0.01)
})

test('a window that does not begin at 0,0 is the same part of the picture', async () => {
  const whole = await keyed(scene.filmed)
  const window = { x: 40, y: 30, width: 200, height: 160 }
  const part = new Float32Array(window.width * window.height * 4)
  for (let j = 0; j < window.height; j++)
    part.set(scene.filmed.subarray(((j + 30) * width + 40) * 4, ((j + 30) * width + 240) * 4), j * window.width * 4)
  const found = await keyed(part, {}, {}, window)
  // Away from its edges, where what lies around is not there.
  for (let j = 60; j < 100; j += 7)
    for (let i = 60; i < 140; i += 7)
      expect(found[(j * 200 + i) * 4 + 3]).toBeCloseTo(whole[((j + 30) * width + i + 40) * 4 + 3], 2)
})

test('at half scale coverage is near the mean of four pixels', async () => {
  const half = await keyed(
    scene.filmed,
    { scale: 2, frame: { x: 0, y: 0, width: width / 2, height: height / 2 } },
    {},
    frame,
    {
      x: 0,
      y: 0,
      width: width / 2,
      height: height / 2,
    },
  )
  let off = 0
  for (let j = 0; j < height / 2; j++)
    for (let i = 0; i < width / 2; i++) {
      const mean = [0, 1, width, width + 1].reduce((sum, k) => sum + scene.alpha[j * 2 * width + i * 2 + k] / 4, 0)
      off += abs(half[(j * (width / 2) + i) * 4 + 3] - mean) / ((width * height) / 4)
    }
  expect(off).toBeLessThan(0.02)
})

test('spill held to the mean of the other two leaves less green than held to the larger, and the same coverage', async () => {
  const [larger, mean] = await Promise.all([
    keyed(scene.filmed),
    keyed(scene.filmed, { choices: { channel: 'green', spill: 'mean' } }),
  ])
  expect(mostOff(mean, (i) => (i % 4 === 3 ? larger[i] : undefined))).toBe(0)
  const green = mean.filter((_, i) => i % 4 === 1)
  const before = larger.filter((_, i) => i % 4 === 1)
  expect(green.every((value, i) => value <= before[i])).toBe(true)
  expect(green.filter((value, i) => value < before[i] - 0.002).length).toBeGreaterThan(1000)
})

test('a blue backing is keyed like a green one', async () => {
  const swapped = (pixels: Float32Array) => pixels.map((_, i) => pixels[i % 4 === 1 ? i + 1 : i % 4 === 2 ? i - 1 : i])
  const points = picks.map(
    ({
      values: {
        x,
        y,
        colour: [r, g, b],
      },
    }) => ({ values: { x, y, colour: [r, b, g] } }),
  )
  const [blue, green] = await Promise.all([
    keyed(swapped(scene.filmed), { choices: { channel: 'blue' }, points }),
    keyed(scene.filmed),
  ])
  for (let i = 3; i < blue.length; i += 44) expect(blue[i]).toBeCloseTo(green[i], 6)
})

test('what is surely in front and a little greener than its other channels keeps that green, away from its edge', async () => {
  const [cx, cy, r] = [160, 120, 70]
  const cloth = [0.2, 0.222, 0.1]
  const pixels = Float32Array.from({ length: width * height * 4 }, (_, i) => {
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)]
    const inside = Math.hypot(x - cx, y - cy) < r
    return i % 4 === 3 ? 1 : inside ? cloth[i % 4] : backingAt(x + 0.5, y + 0.5, i % 4, frame)
  })
  const found = await keyed(pixels)
  for (let y = cy - 30; y <= cy + 30; y += 5)
    for (let x = cx - 30; x <= cx + 30; x += 5) {
      expect(found[4 * (y * width + x) + 1]).toBeCloseTo(cloth[1], 5)
      expect(found[4 * (y * width + x) + 3]).toBe(1)
    }
  // Its shadow on the backing is none of it.
  const figure = await keyed(pixels, { choices: { channel: 'green', spill: 'larger', shows: 'figure' } })
  expect(figure[4 * (cy * width + cx) + 1]).toBeCloseTo(cloth[1], 5)
})

describe('the shadow on the backing', () => {
  // A soft shadow that halves the backing's light, beside the figure and away from it.
  const depth = (x: number, y: number) => 0.5 * Math.exp(-(((x - 40) / 14) ** 2) - ((y - 200) / 20) ** 2)
  const shaded = scene.filmed.map((one, i) => {
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)]
    return i % 4 === 3 ? one : one - (1 - scene.alpha[i >> 2]) * depth(x, y) * backingAt(x + 0.5, y + 0.5, i % 4, frame)
  })
  const shown = (
    shows: string,
    given: Partial<typeof values> = {},
    pixels: Float32Array = shaded,
    window = frame,
    at = window,
  ) => keyed(pixels, { choices: { channel: 'green', spill: 'larger', shows } }, given, window, at)
  const away = [...Array(width * height).keys()].filter(
    (i) => depth(i % width, Math.floor(i / width)) > 0.1 && scene.alpha[i] === 0,
  )

  test('is as dark as it is, and black; without it nothing is left there', async () => {
    const [shadow, figure] = await Promise.all([shown('shadow'), shown('figure')])
    expect(away.length).toBeGreaterThan(500)
    const mean = (of: (i: number) => number) => away.reduce((sum, i) => sum + of(i), 0) / away.length
    const off = (i: number) => shadow[4 * i + 3] - depth(i % width, Math.floor(i / width))
    expect(abs(mean(off))).toBeLessThan(0.01)
    // Noise of 0.008 alone makes 0.032 of it.
    expect(mean((i) => abs(off(i)))).toBeLessThan(0.04)
    expect(mean((i) => figure[4 * i + 3])).toBeLessThan(0.03)
    expect(shadow.every((one, i) => i % 4 === 3 || one === 0)).toBe(true)
  })

  test('with it apart both sum to what covers without that, and the figure keeps what it has', async () => {
    const [all, shadow, figure] = await Promise.all([shown('all'), shown('shadow'), shown('figure')])
    expect(mostOff(all, (i) => (i % 4 === 3 ? shadow[i] + figure[i] : undefined))).toBeLessThan(1e-6)
    expect(errorsOf(await shown('figure', {}, scene.filmed)).elsewhere).toBeLessThan(0.004)
  })

  test('light without coverage is no shadow; an empty picture has none; a part is that part of the whole', async () => {
    const light = scene.filmed.map((one, i) => (i % 4 === 3 ? 0 : one))
    expect((await shown('shadow', {}, light)).every((one) => one === 0)).toBe(true)
    expect((await shown('shadow', {}, new Float32Array(light.length))).every((one) => one === 0)).toBe(true)
    // A window may begin at any pixel.
    const part = { x: 21, y: 170, width: 61, height: 50 }
    const [whole, cut] = await Promise.all([shown('shadow'), shown('shadow', {}, shaded, frame, part)])
    expect(mostDifference(lightIn(whole, frame, part), cut)).toBe(0)
  })
})

test('a backing of the figure’s own colour, or none, is a fault with a remedy', () => {
  const fault = (colour: readonly number[]) =>
    treatments['backing-key'].fault?.({ ...values, colour }, { choices: { channel: 'green' }, points: [] })
  expect(fault([0.1, 0.4, 0.1])).toBeNull()
  expect(fault([0.3, 0.3, 0.2])?.what).toMatch(/does not stand out in green/)
})

test('the backing’s surface lies where its picks do, to a part of a pixel', async () => {
  const whole = { x: width / 2, y: height / 2, unit: width }
  const steep = [0, 1, 2, 3, 4, 5].flatMap((i) =>
    [0, 1, 2].map((j) => {
      const [x, y] = [i * 60, j * 100]
      return { x, y, light: [0.05, 0.2 + 1.6 * (x / width - 0.5) ** 2 + 0.1 * (y / height), 0.06] as const }
    }),
  )
  const surface = backingSurface(steep, whole)
  const backing = Float32Array.from({ length: width * height * 4 }, (_, i) => {
    const [x, y] = [((i >> 2) % width) + 0.5, Math.floor((i >> 2) / width) + 0.5]
    return i % 4 === 3 ? 1 : surfaceAt(surface, i % 4, whole, x, y)
  })
  const asPicked = steep.map(({ x, y, light }) => ({ values: { x: [x], y: [y], colour: [...light] } }))
  // Half a pixel off it would leave a thousandth and more.
  const found = await keyed(backing, { points: asPicked }, { clear: [0], solid: [0], around: [0] })
  expect(found.reduce((most, one, i) => (i % 4 === 3 ? max(most, one) : most), 0)).toBeLessThan(2e-5)
})

test('a surface goes through picks of one, and picks too few tell a mean', () => {
  const whole = { x: 160, y: 120, unit: 320 }
  const surface = backingSurface(
    picks.map(({ values: { x, y, colour } }) => ({ x: x[0], y: y[0], light: colour })),
    whole,
  )
  for (const [x, y] of [
    [10, 20],
    [200, 60],
    [300, 100],
  ])
    expect(surfaceAt(surface, 1, whole, x, y)).toBeCloseTo(backingAt(x, y, 1, frame), 3)
  expect(
    backingSurface(
      [
        { x: 0, y: 0, light: [1, 2, 3] },
        { x: 9, y: 9, light: [3, 2, 1] },
      ],
      whole,
    ),
  ).toEqual([2, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 0])
})

test('a backing filmed alone is keyed by, pixel for pixel, whatever its light; picks do not count then', async () => {
  // Streaks that no smooth surface can follow.
  const streak = (x: number, y: number) => 1 + 0.25 * Math.sin(x / 6) * Math.cos(y / 11)
  const alone = new Float32Array(width * height * 4)
  const pixels = new Float32Array(width * height * 4)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const a = scene.alpha[i]
      for (let c = 0; c < 3; c++) {
        alone[4 * i + c] = backingAt(x + 0.5, y + 0.5, c, frame) * streak(x, y)
        pixels[4 * i + c] = scene.figure[4 * i + c] + (1 - a) * alone[4 * i + c]
      }
      alone[4 * i + 3] = pixels[4 * i + 3] = 1
    }
  const load = (request: FrameRequest) => loading(request.source === 'alone' ? alone : pixels, frame)(request)
  const read = (source: string) => someFrame({ source, path: `${source}.exr`, frameSize: { width, height } })
  const key = (pictures: Surroundings['pictures'], clear: number) =>
    localEngine(1, load, 64).light(
      backingKey.build(
        read('filmed'),
        { ...values, clear: [clear], solid: [clear] },
        surroundings({ frame, choices: { channel: 'green' }, points: picks, ...(pictures ? { pictures } : {}) }),
      ),
      frame,
    )
  const [byPicture, byPicks] = [await key({ clean: read('alone') }, 0.002), await key(undefined, 0.002)]
  const [exact, rough] = [errorsOf(byPicture), errorsOf(byPicks)]
  expect(exact.elsewhere).toBeLessThan(0.001)
  expect(rough.elsewhere).toBeGreaterThan(10 * exact.elsewhere)
})
