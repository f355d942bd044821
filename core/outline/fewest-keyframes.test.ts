import fc from 'fast-check'
import { outlineBetween } from './between'
import { fewestKeyframes } from './fewest-keyframes'
import type { Outline } from './place'

const square = (x: number, y: number, angle = 0): Outline =>
  [45, 135, 225, 315].map((corner) => {
    const at = ((corner + angle) * Math.PI) / 180
    return { x: x + 30 * Math.cos(at), y: y + 30 * Math.sin(at), before: [0, 0], after: [0, 0] }
  })
const run = (many: number, of: (i: number) => Outline) =>
  Array.from({ length: many }, (_, i) => ({ frame: 1001 + i, outline: of(i) }))

test('what goes on evenly, turning or not, has a keyframe at both ends and none between', () => {
  expect(
    fewestKeyframes(
      run(24, (i) => square(100 + 3 * i, 50 - i)),
      0.5,
    ),
  ).toEqual([1001, 1024])
  expect(
    fewestKeyframes(
      run(24, (i) => square(100, 50, 4 * i)),
      0.5,
    ),
  ).toEqual([1001, 1024])
})

test('what turns round in time gets a keyframe where it does', () => {
  expect(
    fewestKeyframes(
      run(21, (i) => square(100 + 4 * Math.abs(i - 10), 50)),
      0.5,
    ),
  ).toEqual([1001, 1011, 1021])
})

test('one frame is one keyframe, none is none', () => {
  expect(
    fewestKeyframes(
      run(1, () => square(0, 0)),
      0.5,
    ),
  ).toEqual([1001])
  expect(fewestKeyframes([], 0.5)).toEqual([])
})

test('whatever moves, between the kept ones no point is farther off than the tolerance', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -20, max: 20 }), fc.integer({ min: -9, max: 9 })), {
        minLength: 2,
        maxLength: 16,
      }),
      (steps) => {
        const frames = run(steps.length, (i) => square(100 + steps[i][0], 50 + steps[i][1], 2 * i))
        const kept = fewestKeyframes(frames, 0.75)
        expect([kept[0], kept[kept.length - 1]]).toEqual([1001, 1000 + steps.length])
        for (let k = 0; k + 1 < kept.length; k++)
          for (let frame = kept[k] + 1; frame < kept[k + 1]; frame++) {
            const [a, b] = [frames[kept[k] - 1001].outline, frames[kept[k + 1] - 1001].outline]
            const made = outlineBetween(a, b, (frame - kept[k]) / (kept[k + 1] - kept[k]))
            made.forEach(({ x, y }, i) => {
              const own = frames[frame - 1001].outline[i]
              expect(Math.hypot(x - own.x, y - own.y)).toBeLessThanOrEqual(0.75 + 1e-9)
            })
          }
      },
    ),
  )
})
