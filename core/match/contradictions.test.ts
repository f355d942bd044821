import { contradictionsOf } from './contradictions'
import type { PairRead } from './pair'
import { proposeVeilAndGain } from './propose'
import { proposeOverFrames, type PairOverFrames } from './propose-over-frames'
import type { Rgb, SideReading } from './side-reading'

/** Readings that contradict each other. */

const grey = (value: number): Rgb => [value, value, value]
const side = (light: number, error = 1e-4): SideReading => ({ light: grey(light), error: grey(error), coverage: 1 })
const pair = (name: string, adjusted: number, reference: number, more: Partial<PairRead> = {}): PairRead => ({
  ...{ name, purpose: adjusted < 0.01 ? 'black' : 'mid' },
  ...{ adjusted: side(adjusted, 1e-5), reference: side(reference) },
  ...more,
})
const present = { veil: grey(0), gain: grey(1) }

test('the same light on the element and twice of it on the plate contradict: both are told, and nothing is made of them', () => {
  const pairs = [pair('left', 0.2, 0.2), pair('right', 0.2, 0.4)]
  const found = proposeVeilAndGain(pairs, present)
  expect(found).toMatchObject({ rests: [], against: null })
  expect(found?.contradictions).toHaveLength(1)
  const [{ names, asks, alone }] = found?.contradictions ?? []
  expect([names, asks]).toEqual([['left', 'right'], 'gain'])
  expect([alone[0][0], alone[1][0]]).toEqual([1, 2])
  // What is set stays as it is.
  expect(found?.gain[0]).toEqual({ value: 1, bar: 0 })
  expect(found?.surer).toMatch(/contradict each other/)
})

test('darker on the element and lighter on the plate contradict, whatever the gain; of two for black it is the veil', () => {
  expect(contradictionsOf([pair('a', 0.1, 0.4), pair('b', 0.3, 0.2)], present)).toHaveLength(1)
  const [dark] = contradictionsOf([pair('a', 0.001, 0.02), pair('b', 0.001, 0.04)], present)
  expect(dark.asks).toBe('veil')
  expect(dark.alone.map(([r]) => r)).toEqual([0.019, 0.039])
})

test('what noise, or materials that are a little unlike, explain is no contradiction', () => {
  expect(contradictionsOf([pair('a', 0.2, 0.2), pair('b', 0.2, 0.22)], present)).toEqual([])
  const noisy = pair('b', 0.2, 0.4, { reference: side(0.4, 0.08) })
  expect(contradictionsOf([pair('a', 0.2, 0.2), noisy], present)).toEqual([])
  // On a reference object both sides are the same thing.
  const onObject = [pair('a', 0.2, 0.2, { unlike: 0.2 }), pair('b', 0.2, 0.22, { unlike: 0.2 })]
  expect(contradictionsOf(onObject, present)).toHaveLength(1)
})

test('pairs of unlike light never contradict where the lighter is lighter on both sides', () => {
  expect(contradictionsOf([pair('a', 0.001, 0.03), pair('b', 0.3, 0.9)], present)).toEqual([])
  expect(contradictionsOf([pair('a', 0.1, 0.2), pair('b', 0.2, 0.9)], present)).toEqual([])
})

test('one that contradicts two others is outvoted by them: what is proposed rests on all, and it is named', () => {
  const others = [pair('a', 0.2, 0.2), pair('b', 0.21, 0.21), pair('c', 0.002, 0.002)]
  const odd = pair('odd', 0.2, 0.5)
  expect(contradictionsOf([...others, odd], present)).toEqual([])
  expect(proposeVeilAndGain([...others, odd], present)?.against).toBe('odd')
})

test('two that contradict each other leave the others to propose by', () => {
  const sound = [pair('dark', 0.001, 0.011), pair('light', 0.4, 0.41)]
  const found = proposeVeilAndGain([...sound, pair('a', 0.1, 0.14), pair('b', 0.1, 0.075)], present)
  expect(found?.contradictions.map(({ names }) => names)).toEqual([['a', 'b']])
  expect(found?.rests).toEqual(['dark', 'light'])
  expect(found?.veil[0].value).toBeCloseTo(0.01, 3)
})

describe('over the frames', () => {
  const frames = Array.from({ length: 8 }, (_, i) => 1001 + i)
  /** The same on every frame, but for a flicker that both sides share. */
  const over = (name: string, adjusted: number, reference: number): PairOverFrames => ({
    frames: new Map(
      frames.map((frame) => {
        const lamps = 1 + 0.01 * Math.sin(frame)
        return [frame, pair(name, adjusted * lamps, reference * lamps)] as const
      }),
    ),
  })

  test('from two that contradict each other nothing is proposed', () => {
    expect(proposeOverFrames([over('a', 0.2, 0.2), over('b', 0.2, 0.4)], present)).toBeNull()
  })

  test('beside two that agree they are left out, and change nothing of what is proposed', () => {
    const sound = [over('dark', 0.001, 0.011), over('light', 0.4, 0.41)]
    const odd = [over('a', 0.1, 0.14), over('b', 0.1, 0.075)]
    const [alone, beside] = [proposeOverFrames(sound, present), proposeOverFrames([...sound, ...odd], present)]
    expect(beside?.together.rests).toEqual(['dark', 'light'])
    expect([alone?.veil.kind, beside?.veil.kind]).toEqual(['one', 'one'])
    for (let c = 0; c < 3; c++)
      expect(beside?.together.veil[c].value).toBeCloseTo(alone?.together.veil[c].value ?? NaN, 12)
  })
})
