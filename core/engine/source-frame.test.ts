import fc from 'fast-check'
import { floatToHalf } from '../image/half'
import type { Planes } from '../image/planes'
import type { Window } from '../image/window'
import { linearFromSrgb } from '../kernels/srgb'
import type { Claims } from '../shot'
import { channelsFor, frameAtScale, NoSuchChannelsError, type Reading } from './source-frame'

const claims = (change: Partial<Claims> = {}): Claims => ({
  encoding: 'linear',
  primaries: 'rec709',
  alpha: 'none',
  ...change,
})
const request = (takes: 'rgba' | 'matte', alpha: Claims['alpha'] = 'none') => ({
  takes,
  claims: claims({ alpha }),
  path: 'bell.1001.exr',
  part: 'beauty',
})

const reading = (scale: 1 | 2 | 4, change: Partial<Claims> = {}, more: Partial<Reading> = {}): Reading => ({
  claims: claims(change),
  working: 'rec709',
  takes: 'rgba',
  enlarge: 1,
  scale,
  ...more,
})

function floatPlanes(
  dataWindow: Window,
  names: string[],
  value: (name: string, x: number, y: number) => number,
): Planes {
  return {
    dataWindow,
    displayWindow: { x: 0, y: 0, width: 16, height: 16 },
    planes: names.map((name) => ({
      name,
      type: 'float' as const,
      samples: Float32Array.from({ length: dataWindow.width * dataWindow.height }, (_, i) =>
        value(name, dataWindow.x + (i % dataWindow.width), dataWindow.y + Math.floor(i / dataWindow.width)),
      ),
    })),
  }
}

describe('channels', () => {
  test('alpha is read only where it is claimed and there', () => {
    expect(channelsFor(request('rgba', 'premultiplied'), ['A', 'B', 'G', 'R'])).toEqual(['R', 'G', 'B', 'A'])
    expect(channelsFor(request('rgba', 'none'), ['A', 'B', 'G', 'R'])).toEqual(['R', 'G', 'B'])
    expect(channelsFor(request('rgba', 'premultiplied'), ['B', 'G', 'R'])).toEqual(['R', 'G', 'B'])
  })

  test('a grey picture serves all three colours, a matte takes the one channel it has', () => {
    expect(channelsFor(request('rgba'), ['Y'])).toEqual(['Y', 'Y', 'Y'])
    expect(channelsFor(request('matte'), ['Y'])).toEqual(['Y'])
    expect(channelsFor(request('matte'), ['A', 'B', 'G', 'R'])).toEqual(['A'])
    expect(channelsFor(request('matte'), ['coverage'])).toEqual(['coverage'])
  })

  test('a part without a picture says which channels it has', () => {
    expect(() => channelsFor(request('rgba'), ['Z'])).toThrow(NoSuchChannelsError)
    expect(() => channelsFor(request('rgba'), ['Z'])).toThrow(
      'bell.1001.exr, part "beauty" has no picture to take (its channels are Z)',
    )
  })
})

describe('reducing', () => {
  test('full scale hands the planes on as they are', () => {
    const planes = floatPlanes({ x: 0, y: 0, width: 4, height: 4 }, ['R', 'G', 'B'], () => 1)
    const whole = frameAtScale(planes, reading(1))
    expect(whole.decoded).toBe(false)
    expect(whole.planes).toBe(planes.planes)
  })

  test('a constant picture stays constant for any window, also where the last pixels are not whole', () => {
    const windows = fc.record({
      x: fc.integer({ min: -9, max: 9 }),
      y: fc.integer({ min: -9, max: 9 }),
      width: fc.integer({ min: 1, max: 13 }),
      height: fc.integer({ min: 1, max: 13 }),
    })
    fc.assert(
      fc.property(windows, fc.constantFrom(2, 4), (window, scale) => {
        const { planes } = frameAtScale(
          floatPlanes(window, ['R', 'G', 'B'], () => 0.75),
          reading(scale),
        )
        for (const plane of planes) for (const value of plane.samples) expect(value).toBeCloseTo(0.75, 6)
      }),
    )
  })

  test('with alpha the light of the whole picture is kept: outside counts as empty', () => {
    const window = { x: -3, y: 5, width: 7, height: 5 }
    const planes = floatPlanes(window, ['R', 'G', 'B', 'A'], (_name, x, y) => ((x * 7 + y * 3) & 7) / 8)
    const total = (frame: Planes) => frame.planes.map((p) => Array.from(p.samples).reduce((sum, v) => sum + v, 0))
    for (const scale of [2, 4] as const) {
      const reduced = frameAtScale(planes, reading(scale, { alpha: 'premultiplied' }))
      total(reduced).forEach((sum, c) => expect(sum * scale * scale).toBeCloseTo(total(planes)[c], 4))
    }
  })

  test('averages are of light, not of code values', () => {
    const window = { x: 0, y: 0, width: 2, height: 2 }
    const planes = floatPlanes(window, ['R', 'G', 'B'], (_name, x) => (x === 0 ? 0 : 1))
    const { planes: reduced } = frameAtScale(planes, reading(2, { encoding: 'srgb' }))
    expect(reduced[0].samples[0]).toBeCloseTo(0.5, 6)
    const middle = floatPlanes(window, ['R', 'G', 'B'], () => 0.5)
    expect(frameAtScale(middle, reading(2, { encoding: 'srgb' })).planes[0].samples[0]).toBeCloseTo(
      linearFromSrgb(0.5),
      6,
    )
  })

  test('straight colour is premultiplied before it is averaged, so that hidden colour does not bleed', () => {
    const window = { x: 0, y: 0, width: 2, height: 2 }
    const planes = floatPlanes(window, ['R', 'G', 'B', 'A'], (name, x) =>
      name === 'A' ? (x === 0 ? 1 : 0) : x === 0 ? 0.2 : 100,
    )
    const { planes: reduced } = frameAtScale(planes, reading(2, { alpha: 'straight' }))
    expect(reduced[0].samples[0]).toBeCloseTo(0.1, 6)
    expect(reduced[3].samples[0]).toBeCloseTo(0.5, 6)
  })

  test('halves are read by their value', () => {
    const dataWindow = { x: 0, y: 0, width: 2, height: 2 }
    const samples = Uint16Array.from([1, 2, 3, 6], floatToHalf)
    const planes: Planes = { dataWindow, displayWindow: dataWindow, planes: [{ name: 'Y', type: 'half', samples }] }
    expect([...frameAtScale(planes, reading(2, {}, { takes: 'matte' })).planes[0].samples]).toEqual([3])
  })

  test('windows are on the grid of the frame: pixel 0 covers 0 to scale - 1, also left of the frame', () => {
    const planes = floatPlanes({ x: -3, y: -1, width: 6, height: 3 }, ['R', 'G', 'B'], (_name, x) => x)
    const reduced = frameAtScale(planes, reading(2))
    expect(reduced.dataWindow).toEqual({ x: -2, y: -1, width: 4, height: 2 })
    expect([...reduced.planes[0].samples.slice(0, 4)]).toEqual([-3, -1.5, 0.5, 2])
  })
})

describe('half-size renders', () => {
  const half = (more: Partial<Reading> = {}) => reading(1, {}, { enlarge: 2, ...more })

  test('are enlarged on their pixel grid: pixel 0 covers 0 and 1, and nothing shifts', () => {
    const planes = floatPlanes({ x: 2, y: 0, width: 4, height: 1 }, ['Y'], (_name, x) => x)
    const { dataWindow, planes: enlarged } = frameAtScale(planes, half({ takes: 'matte' }))
    expect(dataWindow).toEqual({ x: 4, y: 0, width: 8, height: 2 })
    // The middle of full pixel X lies at (X + 0.5) / 2 - 0.5 of the half-size grid; beyond the last middle it goes on level.
    expect([...enlarged[0].samples.subarray(0, 8)]).toEqual([2, 2.25, 2.75, 3.25, 3.75, 4.25, 4.75, 5])
  })

  test('at half scale are taken as they are, at quarter scale reduced once', () => {
    const planes = floatPlanes({ x: 0, y: 0, width: 4, height: 2 }, ['R', 'G', 'B'], (_name, x) => x)
    expect(frameAtScale(planes, half({ scale: 2 })).decoded).toBe(false)
    expect([...frameAtScale(planes, half({ scale: 4 })).planes[0].samples]).toEqual([0.5, 2.5])
  })
})

test('other primaries are brought to the working space before averaging', () => {
  const planes = floatPlanes({ x: 0, y: 0, width: 2, height: 2 }, ['R', 'G', 'B'], (name) => (name === 'G' ? 1 : 0))
  const { planes: reduced } = frameAtScale(planes, reading(2, { primaries: 'rec2020' }))
  // The second column of BT.2087's matrix, inverted.
  expect(reduced.map(({ samples }) => samples[0])).toEqual([-0.5876, 1.1329, -0.1006].map((v) => expect.closeTo(v, 3)))
})
