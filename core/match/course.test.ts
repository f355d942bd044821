import fc from 'fast-check'
import { courseOf, type ValueOnFrame } from './course'
import { proposeOverFrames, type PairOverFrames } from './propose-over-frames'
import type { PairRead } from './pair'
import type { Rgb } from './side-reading'
import { randomOf } from '../test/random'

/** One setting where noise explains what differs; keyframes, jumps kept, where the plate itself changes. */

const sigma = 0.0004
function course(of: (frame: number) => number, noise = sigma, seed = 1): ValueOnFrame[] {
  const { normal } = randomOf(seed)
  return Array.from({ length: 48 }, (_, i) => {
    const value = [0, 1, 2].map(() => of(1001 + i) + noise * normal()) as unknown as Rgb
    return { frame: 1001 + i, value, error: [noise, noise, noise] }
  })
}
const least = 0.0005

test('noise alone makes no keyframes', () => {
  for (let seed = 1; seed <= 50; seed++) {
    const found = courseOf(
      course(() => 0.025, sigma, seed),
      least,
    )
    if (found.kind !== 'one') throw new Error(`keyed with seed ${seed}`)
    expect(found.value[0]).toBeCloseTo(0.025, 3)
  }
})

test('a slow change is two or three keyframes, a jump stays one', () => {
  const slow = courseOf(
    course((frame) => 0.02 + 0.0003 * (frame - 1001)),
    least,
  )
  expect(slow.kind === 'keyed' && slow.keyframes.length).toBeLessThanOrEqual(4)
  const jump = courseOf(
    course((frame) => (frame < 1020 ? 0.02 : 0.03)),
    least,
  )
  if (jump.kind !== 'keyed') throw new Error('one setting')
  const frames = jump.keyframes.map(({ frame }) => frame)
  expect(frames).toEqual(expect.arrayContaining([1019, 1020]))
  expect(frames.length).toBeLessThanOrEqual(6)
})

test('straight lines between the keyframes leave every value within its noise, whatever the course', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 0.1, noNaN: true }), { minLength: 2, maxLength: 40 }), (all) => {
      const values = all.map((value, i): ValueOnFrame => ({
        ...{ frame: 10 + i, value: [value, value / 2, 0.01] },
        error: [sigma, sigma, sigma],
      }))
      const found = courseOf(values, least)
      if (found.kind === 'one') return
      for (const { frame, value } of values) {
        const after = found.keyframes.findIndex((one) => one.frame >= frame)
        const [a, b] = [found.keyframes[Math.max(0, after - 1)], found.keyframes[after]]
        const share = a.frame === b.frame ? 0 : (frame - a.frame) / (b.frame - a.frame)
        const line = a.value[0] + share * (b.value[0] - a.value[0])
        expect(Math.abs(line - value[0])).toBeLessThanOrEqual(least + 3 * sigma + 1e-12)
      }
    }),
  )
})

describe('veil and gain of the shot', () => {
  const [veil, gain] = [0.025, 1.2]
  /** A pair whose material is unlike by a share, on 24 frames. */
  function pair(light: number, unlike: number, seed: number, veilOn: (frame: number) => number): PairOverFrames {
    const { normal } = randomOf(seed)
    const side = (value: number, error: number) => ({
      light: [value, value, value] as const,
      error: [error, error, error] as const,
      coverage: 1,
    })
    const frames = Array.from({ length: 24 }, (_, i): readonly [number, PairRead] => {
      const shown = gain * light * (1 + unlike) + veilOn(1001 + i) + sigma * normal()
      const [reference, adjusted] = [side(shown, sigma), side(light, 0)]
      return [1001 + i, { name: String(seed), purpose: 'mid', reference, adjusted }]
    })
    return { frames: new Map(frames) }
  }
  const pairs = (veilOn: (frame: number) => number) => [
    pair(0.004, 0, 1, veilOn),
    pair(0.05, 0.01, 2, veilOn),
    pair(0.2, -0.01, 3, veilOn),
  ]
  const present = { veil: [0, 0, 0], gain: [1, 1, 1] } as const

  test('where the plate holds still, one of each', () => {
    const found = proposeOverFrames(
      pairs(() => veil),
      present,
    )
    expect(found?.veil.kind).toBe('one')
    expect(found?.together.gain[1].value).toBeCloseTo(gain, 1)
    expect(Math.abs((found?.together.veil[1].value ?? 0) - veil)).toBeLessThan(2 * (found?.together.veil[1].bar ?? 0))
  })

  test('where the plate’s veil changes, keyframes that follow it, however unlike the pairs’ materials', () => {
    const changing = (frame: number) => veil + (frame >= 1012 ? 0.01 : 0)
    const found = proposeOverFrames(pairs(changing), present)
    if (found?.veil.kind !== 'keyed') throw new Error('one setting')
    const { keyframes } = found.veil
    const rise = (keyframes.at(-1)?.value[0] ?? 0) - keyframes[0].value[0]
    expect(Math.abs(rise - 0.01)).toBeLessThan(0.002)
  })

  test('a pair of unlike material that is there on some frames only changes nothing over them', () => {
    const some = pair(0.2, 0.15, 4, () => veil)
    const half = { frames: new Map([...some.frames].filter(([frame]) => frame >= 1013)) }
    const found = proposeOverFrames([...pairs(() => veil), half], present)
    expect(found?.veil.kind).toBe('one')
  })

  test('pairs that do not cover, or on too few frames, say nothing', () => {
    const [one] = pairs(() => veil)
    const few = { frames: new Map([...one.frames].slice(0, 3)) }
    const bare = new Map(
      [...one.frames].map(([frame, read]) => [frame, { ...read, adjusted: { ...read.adjusted, coverage: 0.5 } }]),
    )
    expect(proposeOverFrames([few, { frames: bare }], present)).toBeNull()
  })
})
