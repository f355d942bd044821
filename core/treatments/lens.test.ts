import { framesOf, resample, type FrameRequest, type Scale } from '../graph/steps'
import type { Window } from '../image/window'
import { bent, straightener } from '../motion/lens'
import { composed, byMatrix } from '../motion/mapping'
import { frameAtScale, type SourceFrame } from '../engine/source-frame'
import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { lens, lensOf } from './lens'

const frame = { x: 0, y: 0, width: 96, height: 64 }
const plain = { k1: [0], k2: [0], k3: [0], p1: [0], p2: [0], x: [0], y: [0], squeeze: [1], unit: [1] }
const barrel = { ...plain, k1: [-0.12], k2: [0.01], x: [3.5], y: [-2] }

/** A ramp across and down, so that a value tells the place: 0.01 x + 0.0001 y at a pixel's middle; premultiplied, half covered. */
function ramp(window: Window, covered = 0.5): SourceFrame {
  const at = (place: (x: number, y: number) => number) =>
    Float32Array.from({ length: window.width * window.height }, (_, i) =>
      place(window.x + (i % window.width) + 0.5, window.y + Math.floor(i / window.width) + 0.5),
    )
  const channel = (name: string, samples: Float32Array) => ({ name, type: 'float' as const, samples })
  return {
    displayWindow: frame,
    dataWindow: window,
    planes: [
      channel(
        'R',
        at((x) => 0.01 * x * covered),
      ),
      channel(
        'G',
        at((_x, y) => 0.01 * y * covered),
      ),
      channel(
        'B',
        at(() => covered),
      ),
      channel(
        'A',
        at(() => covered),
      ),
    ],
    decoded: false,
  }
}

/** Overscanned, with an origin that is not 0,0. */
const wide: Window = { x: -24, y: -16, width: 144, height: 96 }
const load = (given: Window, covered?: number) => (request: FrameRequest) =>
  Promise.resolve(frameAtScale(ramp(given, covered), request))

async function through(values: typeof plain, scale: Scale = 1, window: Window = frame, covered = 0.5) {
  const engine = localEngine(1, load(wide, covered))
  const graph = { ...frame, width: frame.width / scale, height: frame.height / scale }
  const picture = someFrame({
    reduce: scale,
    framing: 'file',
    claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
  })
  const around = surroundings({ frame: graph, scale })
  const step = resample(picture, lens.mapping(values, around), 'catmull-rom')
  const light = await engine.light(step, window)
  return { light, step }
}

describe('the lens by its numbers', () => {
  it('leaves the picture alone where it bends nothing', () => {
    expect(lens.mapping(plain, surroundings({ frame })).field).toBeNull()
  })

  it('shows at each pixel the straight place that the lens puts there', async () => {
    const { light } = await through(barrel)
    const back = straightener(lensOf(barrel, frame, 1))
    for (const [x, y] of [
      [0, 0],
      [95, 0],
      [40, 30],
      [95, 63],
    ]) {
      const at = 4 * (y * 96 + x)
      const [sx, sy] = back(x + 0.5, y + 0.5) as [number, number]
      expect(light[at] / 0.005).toBeCloseTo(sx, 3)
      expect(light[at + 1] / 0.005).toBeCloseTo(sy, 3)
      expect(light[at + 3]).toBeCloseTo(0.5, 6)
    }
  })

  it('bends light without coverage, and a transparent element, as it bends any other', async () => {
    const { light } = await through(barrel, 1, frame, 0.25)
    const { light: twice } = await through(barrel, 1, frame, 0.5)
    for (let i = 0; i < light.length; i++) expect(light[i] * 2).toBeCloseTo(twice[i], 6)
  })

  it('is the same in any window, and at half scale of the same place', async () => {
    const { light: all } = await through(barrel)
    const window = { x: 17, y: 9, width: 20, height: 11 }
    const { light: part } = await through(barrel, 1, window)
    for (let row = 0; row < window.height; row++)
      for (let i = 0; i < 4 * window.width; i++)
        expect(part[row * 4 * window.width + i]).toBe(all[4 * ((row + 9) * 96 + 17) + i])
    const { light: half } = await through(barrel, 2, { x: 0, y: 0, width: 48, height: 32 })
    const back = straightener(lensOf(barrel, frame, 1))
    const [sx] = back(2 * 30 + 1, 2 * 20 + 1) as [number, number]
    // Full-scale place over two, of a ramp whose pixels are means of two.
    expect(half[4 * (20 * 48 + 30)] / 0.005).toBeCloseTo(sx, 2)
  })

  it('shows nothing beyond its fold, and says so', async () => {
    const folding = { ...plain, k1: [-0.5] }
    expect(lens.fault?.(folding, surroundings({ frame }))?.what).toContain('folds inside the frame')
    expect(lens.fault?.(barrel, surroundings({ frame }))).toBeNull()
    const { light } = await through(folding)
    expect([...light.slice(0, 4)]).toEqual([0, 0, 0, 0])
    expect(light[4 * (32 * 96 + 48) + 3]).toBeCloseTo(0.5, 6)
  })

  it('with placing and a plane it is one sampling, within 1e-4 px of the exact composition', async () => {
    // Nowhere does it shrink: a filter that is widened does not keep a ramp.
    const plane = [0.9, 0.03, 2, -0.01, 0.88, 1.5, 0.0003, -0.0002, 1] as const
    const mapping = composed(lens.mapping(barrel, surroundings({ frame })), byMatrix(plane))
    expect(mapping).not.toBeNull()
    if (!mapping) return
    const engine = localEngine(1, load(wide, 1))
    const step = resample(
      someFrame({ framing: 'file', claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' } }),
      mapping,
      'catmull-rom',
    )
    expect(framesOf([step])).toHaveLength(2)
    const light = await engine.light(step, frame)
    const back = straightener(lensOf(barrel, frame, 1))
    let worst = 0
    for (let y = 4; y < 60; y++)
      for (let x = 4; x < 92; x++) {
        const [sx, sy] = back(x + 0.5, y + 0.5) as [number, number]
        const w = plane[6] * sx + plane[7] * sy + 1
        const [px, py] = [
          (plane[0] * sx + plane[1] * sy + plane[2]) / w,
          (plane[3] * sx + plane[4] * sy + plane[5]) / w,
        ]
        const at = 4 * (y * 96 + x)
        worst = Math.max(worst, Math.abs(light[at] / 0.01 - px), Math.abs(light[at + 1] / 0.01 - py))
      }
    expect(worst).toBeLessThan(1e-4)
  })

  it('leads back to the picture by the same numbers', () => {
    const through = lensOf(barrel, frame, 1)
    const straight = straightener(through)(70, 12) as [number, number]
    expect(bent(through, straight)[0]).toBeCloseTo(70, 6)
  })
})
