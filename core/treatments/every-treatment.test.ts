import { packTable } from '../colour/table'
import { lumaWeights, type PrimariesName } from '../colour'
import { constant, type FrameRequest, type Scale } from '../graph/steps'
import { frameAtScale, type SourceFrame } from '../engine/source-frame'
import type { Window } from '../image/window'
import { localEngine } from '../test/local-engine'
import { lightIn, mostDifference } from '../test/windows'
import { someFrame, surroundings } from '../test/steps'
import { treatmentKinds, treatments, type ParameterValues, type PictureTreatment, type Surroundings } from '.'

/** What holds for every treatment that makes a picture of a picture, whatever it is for; a new one needs a line here. */

const values: Readonly<Record<string, ParameterValues>> = {
  exposure: { stops: [0.5, 0.3, -0.4] },
  contrast: { contrast: [1.2, 1.1, 0.9], pivot: [0.2] },
  curves: {},
  'hue-ranges': {},
  tint: { amount: [0.6] },
  'white-balance': { from: [4500], to: [6500] },
  'hard-light': { amount: [0.5] },
  'channel-copy': {},
  clamp: { least: [0.15], most: [0.25] },
  vignette: { amount: [0.5], from: [0.2], to: [1], x: [0], y: [0] },
  'veil-and-gain': { veil: [0.02, 0.03, 0.04], gain: [1.3, 1.1, 0.9], gamma: [1, 1, 1] },
  saturation: { amount: [0.4] },
  holdout: {},
  patch: { across: [2], down: [-2], frame: [0], border: [0], inwards: [10] },
  edge: { grow: [-1.5], soften: [1.2], across: [0.4], down: [-0.3], inside: [3] },
  'backing-key': { colour: [0.1, 0.6, 0.1], clear: [0.02], solid: [0.05], spill: [1], around: [6] },
  spill: { amount: [0.8], back: [0.2, 0, 0.3] },
  soften: { across: [2.4], down: [1.6] },
  'light-wrap': { width: [3], amount: [0.5, 0.4, 0.3] },
  glow: { threshold: [0.15], width: [4], amount: [0.5, 0.4, 0.3] },
  grain: { shot: [0.02, 0.02, 0.02], read: [0.01, 0.01, 0.01] },
  'look-table': {},
}
/** What is chosen, and points, where a treatment has any. */
const chosen: Readonly<Record<string, Surroundings['choices']>> = {
  curves: { encoding: 'srgb' },
  'hard-light': { encoding: 'srgb' },
  'channel-copy': { red: 'luma', green: 'blue', blue: 'red' },
  'white-balance': { locus: 'daylight' },
  'backing-key': { channel: 'green' },
  spill: { channel: 'red', to: 'mean' },
}
const points: Readonly<Record<string, Surroundings['points']>> = {
  // A lifted black: of nothing it makes nothing all the same.
  curves: [
    { set: 'luma', values: { in: [0], out: [0.06] } },
    { set: 'luma', values: { in: [0.5], out: [0.6] } },
    { set: 'red', values: { in: [0.4], out: [0.3] } },
  ],
  'hue-ranges': [{ values: { hue: [20], width: [60], shift: [20], saturation: [0.6], stops: [0.3] } }],
  tint: [{ values: { colour: [0.02, 0.03, 0.05] } }, { values: { colour: [0.5, 0.4, 0.3] } }],
  'white-balance': [
    { values: { x: [50], y: [40], colour: [0.5, 0.4, 0.25] } },
    { values: { x: [180], y: [90], colour: [0.3, 0.35, 0.5] } },
  ],
}
/** Those that know where in the frame a pixel lies. */
const bound = ['grain', 'vignette', 'white-balance', 'backing-key']
/** Those that go by the primaries of the working space. */
const byPrimaries = ['saturation', 'curves', 'hue-ranges', 'tint', 'white-balance', 'channel-copy']
/** Those that leave nothing. */
const emptying = ['holdout']
/** Those that look at more than one pixel. */
const wide = ['soften', 'glow', 'edge', 'patch']
const kinds = treatmentKinds.filter((kind) => treatments[kind].side !== 'mapping')

type Pixel = readonly [number, number, number, number]
const frame: Window = { x: 0, y: 0, width: 300, height: 150 }
const table = packTable([{ kind: 'axis', size: 2, least: 0, most: 1, entries: Float32Array.of(0, 2, 0, 2, 0, 2) }])

/** Made-up pixels by their place in the frame, inside a window, as a reader of files brings them. */
const made =
  (window: Window, pixel: (x: number, y: number) => Pixel) =>
  async (request: FrameRequest): Promise<SourceFrame> => {
    const isTable = request.takes === 'table'
    const where = isTable ? { x: 0, y: 0, width: table.length, height: 1 } : window
    const planes = (isTable ? ['table'] : ['R', 'G', 'B', 'A']).map((name, c) => ({
      name,
      type: 'float' as const,
      samples: isTable
        ? table
        : Float32Array.from(
            { length: window.width * window.height },
            (_, i) => pixel(window.x + (i % window.width), window.y + Math.floor(i / window.width))[c],
          ),
    }))
    const file = { dataWindow: where, displayWindow: frame, planes }
    return isTable ? { ...file, decoded: false } : frameAtScale(file, request)
  }

interface Look {
  readonly window?: Window
  readonly at?: Window
  readonly working?: PrimariesName
  readonly scale?: Scale
}

function treat(kind: string, pixel: (x: number, y: number) => Pixel, look: Look = {}): Promise<Float32Array> {
  const { window = { x: 40, y: 30, width: 64, height: 48 }, at = window, working = 'rec709', scale = 1 } = look
  const through = someFrame({ source: 'look', path: 'look.cube', takes: 'table' })
  const own = someFrame({
    working,
    reduce: scale,
    claims: { encoding: 'linear', primaries: working, alpha: 'premultiplied' },
  })
  const step = (treatments[kind as keyof typeof treatments] as PictureTreatment).build(
    own,
    values[kind],
    surroundings({
      pictures: { filling: own },
      behind: constant([0.5, 0.4, 0.3, 1], { ...frame, width: 300 / scale, height: 150 / scale }),
      working,
      scale,
      sources: { table: through },
      choices: chosen[kind] ?? {},
      points: points[kind] ?? [],
      frame: { ...frame, width: 300 / scale, height: 150 / scale },
    }),
  )
  return localEngine(1, made(window, pixel)).light(step, at)
}

const smooth = (x: number, y: number): Pixel => {
  const a = 0.75 + 0.2 * Math.sin(x / 9)
  return [a * (0.3 + 0.1 * Math.sin(x / 7)), a * (0.25 + 0.1 * Math.cos(y / 8)), a * 0.2, a]
}
const channel = (pixels: Float32Array, c: number) => pixels.filter((_, i) => i % 4 === c)
const around: Window = { x: 20, y: 10, width: 104, height: 88 }

test('every treatment has its values here, and they change something', async () => {
  expect(Object.keys(values).sort()).toEqual([...kinds].sort())
  for (const kind of kinds) {
    const out = await treat(kind, smooth)
    const plain = await localEngine(1, made({ x: 40, y: 30, width: 64, height: 48 }, smooth)).light(someFrame(), {
      x: 40,
      y: 30,
      width: 64,
      height: 48,
    })
    expect(mostDifference(out, plain)).toBeGreaterThan(0.001)
  }
})

describe.each(kinds)('%s', (kind) => {
  test('makes nothing of nothing', async () => {
    const out = await treat(kind, () => [0, 0, 0, 0], { at: around })
    expect(out.every((v) => v === 0)).toBe(true)
  })

  test('light without coverage stays light without coverage', async () => {
    const out = await treat(kind, () => [0.5, 0.4, 0.3, 0])
    expect(channel(out, 3).every((a) => a === 0)).toBe(true)
    for (const c of [0, 1, 2]) {
      const light = channel(out, c)
      expect(light.every(Number.isFinite)).toBe(true)
      if (emptying.includes(kind)) expect(light.every((v) => v === 0)).toBe(true)
      else expect(light[(light.length >> 1) + 32]).toBeGreaterThan(0.1)
    }
  })

  test('coverage stays between 0 and 1, and only what looks around reaches beyond the element', async () => {
    const out = await treat(kind, smooth, { at: around })
    expect(channel(out, 3).every((a) => a >= 0 && a <= 1)).toBe(true)
    if (wide.includes(kind)) return
    const outside = out.filter((_, i) => {
      const [x, y] = [around.x + ((i >> 2) % around.width), around.y + Math.floor((i >> 2) / around.width)]
      return x < 40 || y < 30 || x >= 104 || y >= 78
    })
    expect(outside.every((v) => v === 0)).toBe(true)
  })

  test('a part of the picture is that part of the whole picture, wherever its origin lies', async () => {
    const whole = await treat(kind, smooth, { at: around })
    const part: Window = { x: 53, y: 41, width: 20, height: 15 }
    const cut = lightIn(whole, around, part)
    expect(mostDifference(await treat(kind, smooth, { at: part }), cut)).toBe(0)
  })

  test('an element that lies elsewhere is treated the same', async () => {
    if (bound.includes(kind)) return
    const here = await treat(kind, smooth)
    const window = { x: 133, y: 67, width: 64, height: 48 }
    const there = await treat(kind, (x, y) => smooth(x - 93, y - 37), { window })
    // Wide blurs are made of fewer pixels, which lie on the grid of the frame.
    expect(mostDifference(there, here)).toBeLessThanOrEqual(kind === 'glow' || kind === 'light-wrap' ? 2e-4 : 0)
  })

  test('in another working space it is the same, but for what depends on its primaries', async () => {
    const [one, other] = [await treat(kind, smooth), await treat(kind, smooth, { working: 'acescg' })]
    if (!byPrimaries.includes(kind)) return expect(mostDifference(other, one)).toBe(0)
    expect(mostDifference(other, one)).toBeGreaterThan(0.001)
    if (kind !== 'saturation') return
    const luma = (pixel: ArrayLike<number>, working: PrimariesName) =>
      lumaWeights(working).reduce((sum, w, c) => sum + w * pixel[c], 0)
    for (const x of [50, 80]) {
      const at = ((50 - 30) * 64 + x - 40) * 4
      expect(luma(other.subarray(at), 'acescg')).toBeCloseTo(luma(smooth(x, 50), 'acescg'), 5)
      expect(luma(one.subarray(at), 'rec709')).toBeCloseTo(luma(smooth(x, 50), 'rec709'), 5)
    }
  })

  test('at half scale it is what the full picture is when it is reduced', async () => {
    // Grain has the size of a pixel: it is judged at full scale only.
    if (kind === 'grain') return
    const full = await treat(kind, smooth, { at: { x: 40, y: 30, width: 64, height: 48 } })
    const half = await treat(kind, smooth, { scale: 2, at: { x: 20, y: 15, width: 32, height: 24 } })
    let worst = 0
    // Away from the element's edge, where a pixel of half scale stands for covered and empty ones alike.
    for (let y = 4; y < 20; y++)
      for (let x = 4; x < 28; x++)
        for (let c = 0; c < 4; c++) {
          let mean = 0
          for (const [i, j] of [
            [0, 0],
            [1, 0],
            [0, 1],
            [1, 1],
          ])
            mean += full[((2 * y + j) * 64 + 2 * x + i) * 4 + c] / 4
          worst = Math.max(worst, Math.abs(half[(y * 32 + x) * 4 + c] - mean))
        }
    // What goes by the smallest of channels is not the same of a mean.
    expect(worst).toBeLessThan(kind === 'backing-key' ? 0.02 : 0.004)
  })
})
