import { resample, wayField, type FrameRequest, type Lens } from '../graph/steps'
import { frameAtScale } from '../engine/source-frame'
import { overscanOf, unbent } from '../lens'
import { straightener } from '../motion/lens'
import { byField } from '../motion/mapping'
import { localEngine } from '../test/local-engine'
import { someFrame } from '../test/steps'
import { straightened } from './straight'

const frame = { x: 0, y: 0, width: 96, height: 64 }
const wide = { x: -24, y: -16, width: 144, height: 112 }
const lens: Lens = { ...unbent({ frame }), k1: -0.1, centre: [50, 30] }

/** A ramp by which a value tells its place: 0.01 x and 0.01 y. */
const load = (request: FrameRequest) => {
  const at = (place: (x: number, y: number) => number) =>
    Float32Array.from({ length: wide.width * wide.height }, (_, i) =>
      place(wide.x + (i % wide.width) + 0.5, wide.y + Math.floor(i / wide.width) + 0.5),
    )
  const plane = (name: string, samples: Float32Array) => ({ name, type: 'float' as const, samples })
  const planes = [
    plane(
      'R',
      at((x) => 0.01 * x),
    ),
    plane(
      'G',
      at((_x, y) => 0.01 * y),
    ),
    plane(
      'B',
      at(() => 1),
    ),
  ]
  return Promise.resolve(frameAtScale({ displayWindow: frame, dataWindow: wide, planes }, request))
}

test('a picture that a lens bent is straight again, and all of its border is seen', async () => {
  const picture = someFrame({ framing: 'file', claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' } })
  const bent = resample(
    picture,
    byField(wayField({ way: [{ lens, leads: 'to-straight' }], window: frame })),
    'catmull-rom',
  )
  const light = await localEngine(1, load).light(straightened(bent, lens, frame), frame)
  const whole = overscanOf(lens, frame)
  if (!whole) throw new Error('it folds')
  const by = Math.max(whole.width / 96, whole.height / 64)
  expect(by).toBeGreaterThan(1.02)
  const [left, top] = [whole.x + (whole.width - 96 * by) / 2, whole.y + (whole.height - 64 * by) / 2]
  for (const [x, y] of [
    [48, 32],
    [20, 12],
    [80, 50],
  ]) {
    const at = 4 * (y * 96 + x)
    expect(light[at] * 100).toBeCloseTo(left + by * (x + 0.5), 1)
    expect(light[at + 1] * 100).toBeCloseTo(top + by * (y + 0.5), 1)
  }
  // Every corner of the bent picture has its place in the frame.
  for (const [x, y] of [
    [0, 0],
    [96, 0],
    [0, 64],
    [96, 64],
  ]) {
    const [sx, sy] = straightener(lens)(x, y) as [number, number]
    expect(Math.abs((sx - left) / by - 48)).toBeLessThanOrEqual(48 + 1e-6)
    expect(Math.abs((sy - top) / by - 32)).toBeLessThanOrEqual(32 + 1e-6)
  }
})
