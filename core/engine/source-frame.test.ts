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
const request = (takes: 'rgba' | 'scalar', alpha: Claims['alpha'] = 'none') => ({
  takes,
  claims: claims({ alpha }),
  path: 'bell.1001.exr',
  part: 'beauty',
  channels: null,
})

const reading = (scale: 1 | 2 | 4, change: Partial<Claims> = {}, more: Partial<Reading> = {}): Reading => ({
  claims: claims(change),
  working: 'rec709',
  takes: 'rgba',
  reduce: scale,
  framing: 'file',
  frameSize: { width: 16, height: 16 },
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

const halved = ({ planes, ...rest }: Planes): Planes => ({
  ...rest,
  planes: planes.map(({ name, samples }) => ({ name, type: 'half', samples: Uint16Array.from(samples, floatToHalf) })),
})

describe('channels', () => {
  test('alpha is read only where it is claimed and there', () => {
    expect(channelsFor(request('rgba', 'premultiplied'), ['A', 'B', 'G', 'R'])).toEqual(['R', 'G', 'B', 'A'])
    expect(channelsFor(request('rgba', 'none'), ['A', 'B', 'G', 'R'])).toEqual(['R', 'G', 'B'])
    expect(channelsFor(request('rgba', 'premultiplied'), ['B', 'G', 'R'])).toEqual(['R', 'G', 'B'])
  })

  test('a grey picture serves all three colours, a matte takes the one channel it has', () => {
    expect(channelsFor(request('rgba'), ['Y'])).toEqual(['Y', 'Y', 'Y'])
    expect(channelsFor(request('scalar'), ['Y'])).toEqual(['Y'])
    expect(channelsFor(request('scalar'), ['A', 'B', 'G', 'R'])).toEqual(['A'])
    expect(channelsFor(request('scalar'), ['coverage'])).toEqual(['coverage'])
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
    const full = frameAtScale(planes, reading(1))
    expect(full.decoded).toBe(false)
    expect(full.planes).toBe(planes.planes)
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
    expect([...frameAtScale(planes, reading(2, {}, { takes: 'scalar' })).planes[0].samples]).toEqual([3])
  })

  test('windows are on the grid of the frame: pixel 0 covers 0 to scale - 1, also left of the frame', () => {
    const planes = floatPlanes({ x: -3, y: -1, width: 6, height: 3 }, ['R', 'G', 'B'], (_name, x) => x)
    const reduced = frameAtScale(planes, reading(2))
    expect(reduced.dataWindow).toEqual({ x: -2, y: -1, width: 4, height: 2 })
    expect([...reduced.planes[0].samples.slice(0, 4)]).toEqual([-3, -1.5, 0.5, 2])
  })
})

test('depth is picked when it is reduced, coverage is averaged', () => {
  const window = { x: 0, y: 0, width: 4, height: 2 }
  const depth = floatPlanes(window, ['Z'], (_n, x, y) => (x < 2 ? 5 : 900) + y)
  expect([...frameAtScale(depth, reading(2, {}, { takes: 'scalar' })).planes[0].samples]).toEqual([6, 901])
  const cover = floatPlanes(window, ['Y'], (_n, x) => (x % 2 === 0 ? 1 : 0))
  expect([...frameAtScale(cover, reading(2, {}, { takes: 'scalar' })).planes[0].samples]).toEqual([0.5, 0.5])
})

describe('where a file lies in the frame', () => {
  const frameSize = { width: 20, height: 10 }
  const file = (displayWindow: Window, dataWindow = displayWindow): Planes => ({
    ...floatPlanes(dataWindow, ['R', 'G', 'B'], (_n, x) => x),
    displayWindow,
  })
  const placed = (planes: Planes, framing: 'centred' | 'file') =>
    frameAtScale(planes, reading(1, {}, { framing, frameSize })).dataWindow

  test('a display window of the frame’s size is the frame, wherever its numbers begin', () => {
    const display = { x: 100, y: -7, width: 20, height: 10 }
    expect(placed(file(display), 'centred')).toEqual({ x: 0, y: 0, width: 20, height: 10 })
    expect(placed(file(display, { x: 97, y: -9, width: 30, height: 14 }), 'centred')).toEqual({
      x: -3,
      y: -2,
      width: 30,
      height: 14,
    })
  })

  test('one of another size is centred, in whole pixels; by its own numbers it stays where they say', () => {
    const small = { x: 0, y: 0, width: 9, height: 4 }
    expect(placed(file(small), 'centred')).toEqual({ x: 6, y: 3, width: 9, height: 4 })
    expect(placed(file(small), 'file')).toEqual(small)
  })
})

describe('lens maps', () => {
  const frameSize = { width: 4096, height: 2 }
  const window = { x: 0, y: 0, width: 4096, height: 2 }
  const map = (move: number) =>
    frameAtScale(
      floatPlanes(window, ['R', 'G'], (name, x, y) => (name === 'R' ? (x + 0.5 + move) / 4096 : (y + 0.5) / 2)),
      reading(1, {}, { takes: 'vec2', frameSize }),
    ).planes

  test('one that bends nothing is no offset at all, at every pixel of a 4096 wide frame', () => {
    const [across, down] = map(0)
    expect(across.samples.every((v) => v === 0) && down.samples.every((v) => v === 0)).toBe(true)
  })

  test('shares become pixels from where each stands', () => {
    const [across] = map(2.25)
    for (const v of across.samples) expect(Math.abs(v - 2.25)).toBeLessThan(2 ** -12)
  })

  test.each(['float', 'half'] as const)('one of %s whose green grows upwards is no other map', (type) => {
    const window = { x: -3, y: -2, width: 70, height: 45 }
    const frameSize = { width: 64, height: 40 }
    const read = (down: number, up: boolean) => {
      const map = floatPlanes(window, ['R', 'G'], (name, x, y) => {
        const below = (y + 0.5 + down) / 40
        return name === 'R' ? (x + 0.5) / 64 : up ? 1 - below : below
      })
      return frameAtScale(
        type === 'half' ? halved(map) : map,
        reading(1, {}, { takes: 'vec2', frameSize, ...(up ? { greenUp: true } : {}) }),
      ).planes
    }
    for (const { samples } of read(0, true)) expect(samples.every((v) => v === 0)).toBe(true)
    const [[across, down], [plainAcross, plainDown]] = [read(1.5, true), read(1.5, false)]
    expect(across).toEqual(plainAcross)
    down.samples.forEach((v, i) =>
      expect(Math.abs(v - plainDown.samples[i])).toBeLessThan(type === 'half' ? 0.05 : 1e-5),
    )
  })

  test('at half scale offsets are in pixels of that scale', () => {
    const planes = floatPlanes(window, ['R', 'G'], (name, x, y) => (name === 'R' ? (x + 2.5) / 4096 : (y + 0.5) / 2))
    const [across] = frameAtScale(planes, reading(2, {}, { takes: 'vec2', frameSize })).planes
    for (const v of across.samples) expect(v).toBeCloseTo(1, 3)
  })
})

test('encoded premultiplied light is divided by alpha before it is decoded; empty pixels stay empty', () => {
  const window = { x: 0, y: 0, width: 3, height: 1 }
  const code = 0.5
  const planes = floatPlanes(window, ['R', 'G', 'B', 'A'], (name, x) =>
    x === 0 ? (name === 'A' ? 0.25 : code * 0.25) : x === 1 ? 0 : name === 'A' ? 0 : code,
  )
  const { decoded, planes: light } = frameAtScale(planes, reading(1, { encoding: 'srgb', alpha: 'premultiplied' }))
  expect(decoded).toBe(true)
  // Light without coverage is light of its own.
  const expected = [linearFromSrgb(code) * 0.25, 0, linearFromSrgb(code)]
  light[0].samples.forEach((v, i) => expect(v).toBeCloseTo(expected[i], 6))
})

test('other primaries are brought to the working space before averaging', () => {
  const planes = floatPlanes({ x: 0, y: 0, width: 2, height: 2 }, ['R', 'G', 'B'], (name) => (name === 'G' ? 1 : 0))
  const { planes: reduced } = frameAtScale(planes, reading(2, { primaries: 'rec2020' }))
  // The second column of BT.2087's matrix, inverted.
  expect(reduced.map(({ samples }) => samples[0])).toEqual([-0.5876, 1.1329, -0.1006].map((v) => expect.closeTo(v, 3)))
})
