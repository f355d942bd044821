import { randomOf } from '../test/random'
import { grainRecord, NoGrainError, type FramePair, type GrainRecord } from './grain-record'

const { floor, hypot, min, sin, sqrt } = Math
const size = { width: 320, height: 192 }
const shot = [0.0004, 0.0003, 0.0008]
const read = [0.003, 0.0025, 0.005]

type Light = (x: number, y: number, c: number, frame: number) => number

/** A ramp from dark to bright, in steps wide enough to be flat, each a slope. */
const ramp: Light = (x, y, c) => 0.02 + 0.5 * floor(x / 32) ** 2 * 0.01 * (1 + 0.1 * c) + 0.0001 * y

interface Made {
  readonly light?: Light
  readonly sigma?: (light: number, c: number) => number
  /** neighbours share so much of their grain */
  readonly shared?: number
  readonly alpha?: (x: number, y: number) => number
  readonly gain?: number
  readonly most?: number
}

const usual = (light: number, c: number) => sqrt(shot[c] * light + read[c] ** 2)

function frameOf(frame: number, { light = ramp, sigma = usual, shared = 0, alpha, gain = 1, most = Infinity }: Made) {
  const { normal } = randomOf(1000 + frame)
  const { width, height } = size
  const raw = Float64Array.from({ length: 3 * (width + 1) * height }, () => normal())
  const norm = 1 / hypot(1, shared)
  const out = new Float32Array(4 * width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = 4 * (y * width + x)
      for (let c = 0; c < 3; c++) {
        const k = 3 * (y * (width + 1) + x) + c
        const clean = light(x, y, c, frame)
        out[i + c] = gain * min(most, clean + norm * (raw[k] + shared * raw[k + 3]) * sigma(clean, c))
      }
      out[i + 3] = alpha?.(x, y) ?? 1
    }
  return out
}

const pairs = (made: Made = {}, count = 3): FramePair[] =>
  Array.from({ length: count }, (_, i) => ({ before: frameOf(2 * i, made), after: frameOf(2 * i + 1, made), ...size }))

function expectTruth(found: GrainRecord, within = 0.05, gain = 1) {
  found.channels.forEach(({ bins }, c) => {
    for (const { light, sigma, error, verdict } of bins)
      if (verdict === 'usable') {
        const truth = gain * usual(light / gain, c)
        expect(Math.abs(sigma / truth - 1)).toBeLessThan(within)
        expect(Math.abs(sigma - truth)).toBeLessThan(5 * error)
      }
  })
}

test('shot and read of each channel are found, with errors that hold them', () => {
  const found = grainRecord(pairs())
  expectTruth(found)
  found.channels.forEach(({ shot: s, shotError, read: r, readError, bins, farthest }, c) => {
    expect(Math.abs(s / shot[c] - 1)).toBeLessThan(0.05)
    expect(Math.abs(s - shot[c])).toBeLessThan(4 * shotError)
    expect(Math.abs(r / read[c] - 1)).toBeLessThan(0.1)
    expect(Math.abs(r - read[c])).toBeLessThan(4 * readError)
    expect(bins.filter(({ verdict }) => verdict === 'usable').length).toBeGreaterThan(4)
    expect(farthest).toBeLessThan(0.05)
  })
})

test('stated errors are what the estimates scatter by', () => {
  const off = Array.from({ length: 24 }, (_, i) => {
    const frames = [2 * i + 500, 2 * i + 501].map((frame) => frameOf(frame, {}))
    const [{ bins }] = grainRecord([{ before: frames[0], after: frames[1], ...size }]).channels
    return bins.flatMap(({ light, sigma, error, verdict }) =>
      verdict === 'usable' ? [(sigma - usual(light, 0)) / error] : [],
    )
  }).flat()
  const rms = sqrt(off.reduce((sum, one) => sum + one * one, 0) / off.length)
  expect(off.length).toBeGreaterThan(100)
  expect(rms).toBeGreaterThan(0.75)
  expect(rms).toBeLessThan(1.3)
})

test('grain that has a size is found as strong as it is', () => {
  expectTruth(grainRecord(pairs({ shared: 0.5 })))
})

test('texture that holds still, and texture that sways by half a pixel, is no grain', () => {
  const grass: Light = (x, y, c, frame) =>
    ramp(x, y, c, frame) * (y > 96 ? 1 + 0.3 * sin((x + 0.5 * (frame % 2)) * 1.1) * sin(y * 0.9) : 1)
  const found = grainRecord(pairs({ light: grass }))
  expectTruth(found)
  expect(found.refused.textured).toBeGreaterThan(500)
})

test('light that flickers between the frames, and a slope, are no grain', () => {
  const lamp: Light = (x, y, c, frame) => ramp(x, y, c, frame) * (1 + 0.04 * (frame % 2)) + 0.0004 * x
  expectTruth(grainRecord(pairs({ light: lamp })), 0.06)
})

test('what moves through the picture is left out', () => {
  const ball: Light = (x, y, c, frame) =>
    hypot(x - 60 - 9 * frame, y - 90) < 30 ? 0.3 + 0.05 * sin(x) : ramp(x, y, c, frame)
  expectTruth(grainRecord(pairs({ light: ball })))
})

/** One way on even frames, the other way on odd ones: nothing of it is in the mean. */
const flipping = (x: number, y: number, frame: number) => (frame % 2 === 0 ? 1 : -1) * ((x + y) % 2 === 0 ? 1 : -1)

test('what flips from frame to frame is no grain: in a few places, or all over a level of light', () => {
  const few: Light = (x, y, c, frame) =>
    ramp(x, y, c, frame) + (y > 160 && floor(x / 16) % 2 === 0 ? 0.03 * flipping(x, y, frame) : 0)
  const found = grainRecord(pairs({ light: few }))
  expectTruth(found)
  for (const { bins } of found.channels)
    expect(bins.filter(({ verdict }) => verdict === 'usable').length).toBeGreaterThan(4)
  expect(found.refused.moving).toBeGreaterThan(30)
  const screen: Light = (x, y, _c, frame) => (x < 160 ? 0.05 : 0.4 + 0.05 * flipping(x, y, frame))
  for (const { bins } of grainRecord(pairs({ light: screen })).channels) {
    const bright = bins.filter(({ from }) => from > 0.2)
    expect(bright.length).toBeGreaterThan(0)
    expect(bright.every(({ verdict }) => verdict === 'nothing flat')).toBe(true)
  }
})

test('texture of every strength that pans by pixels is no grain, though it is new on every frame', () => {
  const pan: Light = (x, y, _c, frame) => {
    const at = x + 3 * frame
    return 0.2 + 0.2 * ((floor(x / 16) * 7 + floor(y / 16) * 3) % 20) * 0.05 * sin(at * 2.3) * sin(y * 1.9 + at * 0.7)
  }
  const still: Light = (x, y, c, frame) => (x < 96 ? 0.05 : pan(x, y, c, frame))
  const found = grainRecord(pairs({ light: still }))
  for (const { bins } of found.channels)
    for (const { light, sigma, verdict } of bins)
      if (verdict === 'usable')
        expect(
          Math.abs(
            sigma /
              usual(
                light,
                found.channels.findIndex((one) => one.bins === bins),
              ) -
              1,
          ),
        ).toBeLessThan(0.1)
})

test('where the plate is clipped nothing is read, and what is not covered neither', () => {
  const found = grainRecord(pairs({ most: 0.2, alpha: (_x, y) => (y < 48 ? 0.5 : 1) }))
  expectTruth(found)
  expect(found.refused.clipped).toBeGreaterThan(50)
  expect(found.refused.empty).toBeGreaterThan(100)
  for (const { bins } of found.channels)
    for (const { light, verdict } of bins) if (verdict !== 'nothing flat') expect(light).toBeLessThan(0.2)
})

test('a level of light at which nothing is flat says so', () => {
  // Between dark and bright there is nothing but texture.
  const gap: Light = (x, y, c) =>
    x < 120 ? 0.03 : x > 200 ? 0.6 + 0.02 * c : 0.3 + 0.1 * sin(x * 1.3) * Math.cos(y * 1.1)
  const [{ bins }] = grainRecord(pairs({ light: gap })).channels
  expect(bins.some(({ verdict, from }) => verdict === 'nothing flat' && from > 0.05 && from < 0.5)).toBe(true)
  expect(bins[0].verdict).toBe('usable')
})

test('grain of a film, strongest in the middle, is measured as it is, and told to be off the line', () => {
  const film = (light: number) => 0.01 * Math.exp(-((light - 0.15) ** 2) / 0.01) + 0.002
  const found = grainRecord(pairs({ sigma: film }))
  for (const { light, sigma, verdict } of found.channels[1].bins)
    if (verdict === 'usable' && light < 0.3) expect(Math.abs(sigma / film(light) - 1)).toBeLessThan(0.2)
  expect(found.channels[1].farthest).toBeGreaterThan(0.2)
})

test('neither part of the line falls below 0: grain that rises faster than its line, and grain that falls with light', () => {
  const rising = grainRecord(pairs({ sigma: (light) => 0.04 * light }))
  const falling = grainRecord(pairs({ sigma: (light) => 0.01 - 0.008 * min(1, light) }))
  for (const { shot: s, read: r } of rising.channels) {
    expect(r).toBe(0)
    expect(s).toBeGreaterThan(0)
  }
  for (const { shot: s, read: r } of falling.channels) {
    expect(s).toBe(0)
    expect(r).toBeGreaterThan(0.006)
    expect(r).toBeLessThan(0.01)
  }
})

test('twice as bright it is twice as strong, in any working space whose numbers are so', () => {
  expectTruth(grainRecord(pairs({ gain: 2 })), 0.05, 2)
})

test.each([
  ['frames that are alike', (): FramePair[] => [{ before: frameOf(1, {}), after: frameOf(1, {}), ...size }], /alike/],
  [
    'nothing but texture',
    () => pairs({ light: (x, y, _c, f) => 0.3 + 0.2 * sin(x * 2.1 + f) * sin(y * 1.7) }),
    /flat enough/,
  ],
  ['a plate that is not there', () => pairs({ alpha: () => 0 }), /empty or clipped/],
  ['no frames at all', () => [], /empty or clipped/],
])('%s: a sentence', (_, made, sentence) => {
  const frames = made()
  expect(() => grainRecord(frames)).toThrow(NoGrainError)
  expect(() => grainRecord(frames)).toThrow(sentence)
})
