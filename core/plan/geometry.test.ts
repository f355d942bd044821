import { type FrameRequest } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { pictureOf, treated, withSource } from '../test/small-shot'
import { newTreatment, type Shot } from '../shot'
import { frameAtScale } from '../engine/source-frame'
import { cgElement, only, plan } from '../test/planned'

describe('geometry', () => {
  const shape = { width: 20, height: 10 }
  const small: Shot = { ...only('plate', 'cg'), frameSize: shape }
  /** A CG file of one opaque pixel at 3, 2 of a given size. */
  const file = (width: number, height: number) => async (request: FrameRequest) => {
    const window = { x: 0, y: 0, width, height }
    const dot = request.source === 'cg'
    const planes = ['R', 'G', 'B', ...(dot ? ['A'] : [])].map((name) => ({
      name,
      type: 'float' as const,
      samples: Float32Array.from({ length: width * height }, (_, i) =>
        !dot || (i % width === 3 && i >= 2 * width && i < 3 * width) ? 1 : 0,
      ),
    }))
    return frameAtScale({ dataWindow: window, displayWindow: window, planes }, request)
  }
  const element = async (shot: Shot, width: number, height: number, scale: 1 | 2 = 1) => {
    const step = pictureOf(shot, 1001, scale).elements.get('cg')
    if (!step) throw new Error('no element')
    const window = { x: 0, y: 0, width: 20 / scale, height: 10 / scale }
    return {
      step,
      alpha: (await localEngine(1, file(width, height)).light(step, window)).filter((_, i) => i % 4 === 3),
    }
  }
  const centre = (alpha: Float32Array, width: number) => {
    const sum = alpha.reduce((a, v) => a + v, 0)
    const mean = (f: (i: number) => number) => alpha.reduce((a, v, i) => a + v * f(i), 0) / sum
    return [mean((i) => (i % width) + 0.5), mean((i) => Math.floor(i / width) + 0.5)]
  }

  test('a matte that is enlarged stays within 0 and 1: the filter’s overshoot would make bright rims', async () => {
    const edge = async (request: FrameRequest) => {
      const window = { x: 0, y: 0, width: 10, height: 5 }
      const samples = Float32Array.from({ length: 50 }, (_, i) => (i % 10 < 5 ? 1 : 0))
      const planes = Array.from({ length: 3 }, () => ({ name: 'Y', type: 'float' as const, samples }))
      return frameAtScale({ dataWindow: window, displayWindow: window, planes }, request)
    }
    const shadowed = { ...withSource(only('plate', 'shadow'), 'matte', { enlarge: 2 }), frameSize: shape }
    const step = pictureOf(shadowed, 1001).elements.get('shadow')
    if (!step) throw new Error('no element')
    const out = await localEngine(1, edge).light(step, { x: 0, y: 4, width: 20, height: 1 })
    const values = [...out].filter((_, i) => i % 4 === 0)
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0)
    expect(Math.max(...values)).toBeLessThanOrEqual(1)
    expect(values.some((value) => value > 0.1 && value < 0.9)).toBe(true)
  })

  test('a half-size render is enlarged on its pixel grid: nothing shifts, at half scale nothing is sampled', async () => {
    const half = withSource(small, 'cg', { enlarge: 2 })
    const { alpha } = await element(half, 10, 5)
    const [x, y] = centre(alpha, 20)
    // The middle of pixel 3, 2 is 3.5, 2.5 of the half-size grid.
    expect([x, y]).toEqual([expect.closeTo(7, 4), expect.closeTo(5, 4)])
    expect((await element(half, 10, 5, 2)).step.op).toBe('frame')
  })

  test('pixels of another shape are squeezed about the middle of the frame, not the plate', async () => {
    const wide = withSource(small, 'cg', { pixelAspect: 2 })
    const { alpha } = await element(wide, 10, 10)
    expect(centre(alpha, 20)).toEqual([expect.closeTo(7, 3), expect.closeTo(2.5, 4)])
    expect(plan(withSource(small, 'plate', {})).plate.op).toBe('frame')
  })

  test('a lens map and an enlargement are one sampling', () => {
    const lens = { ...newTreatment('lens-map', 'lens'), sources: { map: 'matte' } }
    const shot = treated(withSource(small, 'cg', { enlarge: 2 }), cgElement, lens)
    let samplings = 0
    const visit = (step: ReturnType<typeof plan>['composite']): void => {
      if (step.op === 'resample') samplings++
      step.inputs.forEach(visit)
    }
    const step = plan(shot).elements.get('cg')
    if (step) visit(step)
    expect(samplings).toBe(1)
  })
})
