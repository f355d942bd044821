import fc from 'fast-check'
import { blend, blur, colour, grow, resample, type Step } from '../graph/steps'
import type { Window } from '../image/window'
import { erf } from '../kernels/gaussian'
import { byField } from '../motion/mapping'
import { display, everything, from, load, source, everywhere } from '../test/everything'
import { localEngine } from '../test/local-engine'
import { lightIn, sameBits, windowsIn } from '../test/windows'
import type { SourceFrame } from './source-frame'

/** What the engine makes of steps that look around, on made-up sources; and that tiles, bands and workers do not show. */

const engine = (workers = 1, megabytes = 48) => localEngine(workers, load, megabytes)

async function light(step: Step, window: Window): Promise<(x: number, y: number, c: number) => number> {
  const pixels = await engine().light(step, window)
  return (x, y, c) => pixels[((y - window.y) * window.width + x - window.x) * 4 + c]
}

describe('blur', () => {
  test.each([1, 1.2, 3, 4, 11])(
    'sigma %p turns an edge between two pixels into an error function; with the pixel itself its sigma is just this',
    async (sigma) => {
      const own = Math.sqrt(sigma ** 2 - 1 / 12)
      const at = await light(blur(from('step'), sigma, 0, 'extend'), { x: 250, y: 40, width: 200, height: 1 })
      for (let x = 250; x < 450; x++)
        expect(Math.abs(at(x, 40, 0) - 0.5 * (1 + erf((x - 349.5) / (Math.SQRT2 * own))))).toBeLessThan(2e-4)
    },
  )

  test.each([
    [0.3, 0.5],
    [2, 0],
    [0, 5],
    [6, 3],
    [2, 9],
    [20, 20],
  ])('sigmas %p and %p keep the energy of a single pixel, and its place', async (sigmaX, sigmaY) => {
    const window = { x: 100, y: -160, width: 408, height: 409 }
    const at = await light(blur(from('dot'), sigmaX, sigmaY, 'empty'), window)
    const moments = [0, 0, 0, 0, 0]
    for (let y = window.y; y < window.y + window.height; y++)
      for (let x = window.x; x < window.x + window.width; x++) {
        const v = at(x, y, 3)
        ;[1, x - 304, y - 44, (x - 304) ** 2, (y - 44) ** 2].forEach((factor, i) => (moments[i] += factor * v))
      }
    const [energy, dx, dy, xx, yy] = moments
    const expected = (sigma: number) => (sigma < 0.1 ? 0 : sigma ** 2)
    expect(energy).toBeCloseTo(1, 4)
    // In hundredths of a pixel, since 160000 roundings add up.
    expect(dx).toBeCloseTo(0, 2)
    expect(dy).toBeCloseTo(0, 2)
    expect(Math.abs(xx - expected(sigmaX))).toBeLessThanOrEqual(0.01 * expected(sigmaX) + 1e-6)
    expect(Math.abs(yy - expected(sigmaY))).toBeLessThanOrEqual(0.01 * expected(sigmaY) + 1e-6)
  })

  test('an extended plate stays level at its edges, an empty surrounding darkens them', async () => {
    const flat = colour(from('step'), [{ do: 'affine', gain: [0, 0, 0], veil: [1, 1, 1] }])
    const extended = await light(blur(flat, 5, 5, 'extend'), display)
    const emptied = await light(blur(flat, 5, 5, 'empty'), display)
    expect(extended(0, 0, 0)).toBeCloseTo(1, 5)
    expect(emptied(0, 0, 0)).toBeCloseTo(0.25, 1)
    expect(emptied(350, 45, 0)).toBeCloseTo(1, 4)
  })

  test.each([0.1, 3])('one that goes on beyond the frame (sigma %s) is nothing beyond its reach', async (sigma) => {
    const at = await light(blur(from('plate'), sigma, sigma, { frame: display }), everywhere)
    expect(at(0, 45, 3)).toBeGreaterThan(0.9)
    expect(at(-20, 45, 3)).toBe(0)
    expect(at(350, 108, 3)).toBe(0)
  })
})

describe('grow', () => {
  test.each([3.3, -2.4])('by %p px any part has the bits of the whole, whatever was made before', async (radius) => {
    // Shrunk and grown again: the second reads what is beyond the first.
    const step = grow(grow(from('matte'), radius, { frame: display }), -radius / 2, 'empty')
    const whole = await engine().light(step, everywhere)
    const used = engine()
    await fc.assert(
      fc.asyncProperty(windowsIn(everywhere, 300, 60), async (window) => {
        expect(sameBits(await used.light(step, window), lightIn(whole, everywhere, window))).toBe(true)
      }),
      { numRuns: 12 },
    )
  })

  test('three workers give the bits of one', async () => {
    const step = grow(from('cg'), 5.7, 'extend')
    expect(sameBits(await engine(3).light(step, display), await engine(1).light(step, display))).toBe(true)
  })
})

describe('resampling', () => {
  const through = (name: string, of = 'plate') => resample(from(of), byField(from(name)), 'catmull-rom')

  test('through a field that moves nothing changes no bit', async () => {
    expect(await engine().light(through('still'), display)).toEqual(await engine().light(from('plate'), display))
  })

  test('by whole pixels is a shift, to the bit; beyond the source there is nothing', async () => {
    const at = await light(through('shift'), display)
    const plain = await light(from('plate'), display)
    for (const [x, y] of [
      [10, 10],
      [500, 60],
      [0, 0],
    ])
      expect(at(x, y, 1)).toBe(plain(x + 3, y + 2, 1))
    expect(at(699, 10, 3)).toBe(0)
  })

  test('a small window asks for a small piece of what is resampled', async () => {
    const step = resample(blur(from('plate'), 2, 2, 'extend'), byField(from('bend')), 'catmull-rom')
    const one = engine()
    await one.light(from('plate'), { x: 0, y: 0, width: 1, height: 1 })
    await one.light(step, { x: 200, y: 40, width: 8, height: 8 })
    const little = one.usedBytes()
    await one.light(step, display)
    // The buffers of the small window are a few tiles; those of the whole are megabytes.
    expect(one.usedBytes() - little).toBeGreaterThan(1e6)
  })
})

describe('the same bits', () => {
  test('for one worker or three', async () => {
    expect(
      sameBits(await engine(3).light(everything(), everywhere), await engine(1).light(everything(), everywhere)),
    ).toBe(true)
  })

  test('in bands where memory is short', async () => {
    expect(
      sameBits(await engine(1, 20).light(everything(), everywhere), await engine(1).light(everything(), everywhere)),
    ).toBe(true)
  })

  test('for all of it and for any window of it, in any order, whatever was made before', async () => {
    const reference = await engine(1).light(everything(), everywhere)
    const one = engine(2)
    await fc.assert(
      fc.asyncProperty(windowsIn(everywhere, 300, 70), async (window) => {
        const part = await one.light(everything(), window)
        expect(sameBits(part, lightIn(reference, everywhere, window))).toBe(true)
      }),
      { numRuns: 40 },
    )
  })

  test('in the three outputs: halves are the rounded light, the view is made of it', async () => {
    const one = engine(2)
    const pixels = await one.light(everything(), everywhere)
    const halves = await one.halves(everything(), everywhere)
    const { floatToHalf } = await import('../kernels/half')
    const count = everywhere.width * everywhere.height
    for (let i = 0; i < count; i += 97)
      for (let c = 0; c < 3; c++) expect(halves[c * count + i]).toBe(floatToHalf(pixels[i * 4 + c]))
    const seen = await one.view(everything(), everywhere, { exposure: 1, channel: 'all', encoding: 'srgb' })
    const { srgbFromLinear } = await import('../kernels/srgb')
    for (let i = 0; i < count; i += 97)
      expect(Math.abs(seen[i * 4] - Math.min(1, Math.max(0, srgbFromLinear(pixels[i * 4]))) * 255)).toBeLessThan(0.52)
  })
})

describe('sizes and places at the limits', () => {
  const nowhere: Window = { x: 5000, y: -4000, width: 40, height: 30 }
  test.each([
    ['blur', () => blur(from('cg'), 3, 30, 'empty')],
    ['resampling', () => resample(from('cg'), byField(from('bend')), 'lanczos-3')],
    ['everything', () => blend(everything(), from('cg'), null, 'over', 1, {})],
  ])('%s far outside the data window is empty; a window of no pixels gives none', async (_name, step) => {
    const pixels = await engine().light(step(), nowhere)
    expect(pixels).toHaveLength(40 * 30 * 4)
    if (_name !== 'everything') expect(pixels.every((v) => v === 0)).toBe(true)
    expect(await engine().light(step(), { ...nowhere, height: 0 })).toHaveLength(0)
  })

  test('a source of one pixel', async () => {
    const one = localEngine(1, async () => ({
      ...source({ x: 0, y: 0, width: 1, height: 1 }, ['R', 'G', 'B'], () => 0.5),
      decoded: false,
    }))
    const pixels = await one.light(blur(from('plate'), 2, 40, 'extend'), { x: -3, y: -3, width: 7, height: 7 })
    for (let i = 0; i < 49; i++) expect(pixels[i * 4]).toBeCloseTo(0.5, 5)
  })

  test('a source of 8192x8192 pixels, of which a corner is looked at', async () => {
    const size = 8192
    const samples = new Uint16Array(size * size).fill(0x3800)
    const huge: SourceFrame = {
      dataWindow: { x: 0, y: 0, width: size, height: size },
      displayWindow: { x: 0, y: 0, width: size, height: size },
      planes: ['R', 'G', 'B'].map((name) => ({ name, type: 'half' as const, samples })),
      decoded: false,
    }
    const one = localEngine(1, async () => huge, 256)
    const pixels = await one.light(blur(from('plate'), 60, 1, 'extend'), {
      x: size - 5,
      y: size - 5,
      width: 5,
      height: 5,
    })
    expect(pixels[0]).toBeCloseTo(0.5, 5)
  })

  test('a NaN in a source spreads as far as the blur reaches and no further', async () => {
    const one = localEngine(1, async () => ({
      ...source(display, ['R', 'G', 'B'], (_n, x, y) => (x === 100 && y === 40 ? NaN : 0.25)),
      decoded: false,
    }))
    const pixels = await one.light(blur(from('plate'), 1, 1, 'extend'), display)
    const words = new Uint32Array(pixels.buffer)
    const at = (x: number, y: number) => (y * 700 + x) * 4
    expect(words[at(100, 40)]).toBe(0xffffffff)
    expect(pixels[at(120, 40)]).toBeCloseTo(0.25, 6)
    expect(pixels[at(100, 60)]).toBeCloseTo(0.25, 6)
  })
})
