import { smallShot } from '../test/small-shot'
import { inverseOf, multiplied, throughMatrix } from '../motion/mapping'
import { cornersOf, type Spot } from '../motion/placing'
import { applyEdit, newPlacing, placedMatrix, type Change, type Parameters, type Shot } from '.'
import { coveringScale, wayOf } from './covering'
import { closingScale, extremesOf, fitted, movePivot, moveWith, scaleAbout } from './moving'

/** The frame is 300 by 150. */
const box = { x: 20, y: 30, width: 60, height: 40 }
const place = (shot: Shot, element: string, given: Parameters): Shot =>
  applyEdit(shot, { kind: 'place-element', element, placing: newPlacing(box, given) }).shot
const both = place(
  place(smallShot, 'cg', {
    x: [{ keyframes: { 1001: 3, 1008: 20 } }],
    rotation: [{ keyframes: { 1001: { value: 0, to: 'straight' }, 1010: 90 } }],
    scale: [1.3],
  }),
  'front',
  { x: [-8], y: [5], rotation: [35], scale: [0.6], stretch: [1.2], skew: [10] },
)
const made = (shot: Shot, edit: Change | null): Shot => {
  if (!edit) throw new Error('no edit')
  return applyEdit(shot, edit).shot
}
const expectSame = (a: readonly number[], b: readonly number[]) =>
  a.forEach((value, i) => expect(value).toBeCloseTo(b[i], 6))

test.each([1001, 1004, 1009])('moving with another, and by itself again, moves nothing on frame %i', (frame) => {
  const before = placedMatrix(both, 'cg', frame)
  const carried = made(both, moveWith(both, 'cg', frame, 'front'))
  expect(carried.elements.byId.cg.placing?.with).toBe('front')
  expectSame(placedMatrix(carried, 'cg', frame), before)
  // Then the other moves it.
  const moved = made(carried, {
    kind: 'set-parameter',
    at: { owner: { kind: 'placing', element: 'front' }, parameter: 'x', channel: 0 },
    frame,
    value: 12,
  })
  expect(placedMatrix(moved, 'cg', frame)[2] - before[2]).toBeCloseTo(20, 6)
  const back = made(carried, moveWith(carried, 'cg', frame, null))
  expectSame(placedMatrix(back, 'cg', frame), before)
  // Its own motion is as it was: so are its keyframes.
  expect(Object.keys((back.elements.byId.cg.placing?.parameters.x[0] as { keyframes: object }).keyframes)).toEqual([
    '1001',
    '1008',
  ])
})

test('nothing moves with itself, by whatever way', () => {
  const shot = made(both, moveWith(both, 'cg', 1001, 'front'))
  expect(moveWith(shot, 'front', 1001, 'cg')).toBeNull()
  const direct: Change = { kind: 'set-placing', element: 'front', changes: { with: 'cg' } }
  expect(() => applyEdit(shot, direct)).toThrow(/cannot move with .* which moves with/)
  expect(() => applyEdit(both, { kind: 'set-placing', element: 'cg', changes: { with: 'cg' } })).toThrow(
    'cannot move with itself',
  )
})

test('moving the pivot moves nothing on the frame; it then lies where it was put', () => {
  const carried = made(both, moveWith(both, 'cg', 1004, 'front'))
  for (const shot of [both, carried]) {
    const before = placedMatrix(shot, 'cg', 1004)
    const after = made(shot, movePivot(shot, 'cg', 1004, [77, 12]))
    expectSame(placedMatrix(after, 'cg', 1004), before)
    const turned = made(after, {
      kind: 'set-parameter',
      at: { owner: { kind: 'placing', element: 'cg' }, parameter: 'scale', channel: 0 },
      frame: 1004,
      value: 2,
    })
    // What lies under the pivot stays there however large it is.
    const under = throughMatrix(inverseOf(before) ?? before, 77, 12) as Spot
    expectSame(throughMatrix(placedMatrix(turned, 'cg', 1004), ...under) as Spot, [77, 12])
  }
})

test('scaled about a place, that place stays and everything else is farther from it', () => {
  const before = placedMatrix(both, 'front', 1001)
  const after = placedMatrix(made(both, scaleAbout(both, 'front', 1001, [40, 50], 1.5)), 'front', 1001)
  const there = (x: number, y: number) => throughMatrix(multiplied(after, inverseOf(before) ?? before), x, y) as Spot
  expectSame(there(40, 50), [40, 50])
  expectSame(there(60, 50), [70, 50])
})

test('fit shows all of the box in the middle, fill covers the frame, by pixel undoes an enlargement', () => {
  const corners = (shot: Shot) =>
    cornersOf(box).map(([x, y]) => throughMatrix(placedMatrix(shot, 'front', 1001), x, y) as Spot)
  expectSame(corners(made(both, fitted(both, 'front', 1001, 'fit'))).flat(), [37.5, 0, 262.5, 0, 262.5, 150, 37.5, 150])
  expectSame(corners(made(both, fitted(both, 'front', 1001, 'fill'))).flat(), [0, -25, 300, -25, 300, 175, 0, 175])
  expect(made(both, fitted(both, 'front', 1001, 'by-pixel', 2)).elements.byId.front.placing?.parameters.scale).toEqual([
    0.5,
  ])
  expectSame(corners(made(both, fitted(both, 'front', 1001, 'as-it-came'))).flat(), cornersOf(box).flat())
})

describe('extremes over the range', () => {
  const size = { frames: { first: 1, last: 20 }, frameSize: { width: 100, height: 50 } }
  const full = { x: 0, y: 0, width: 100, height: 50 }
  const at = (dx: number, dy: number, scale = 1) =>
    cornersOf(full).map(([x, y]): Spot => [50 + (x - 50) * scale + dx, 25 + (y - 25) * scale + dy])

  test('highest, and the first frame on which it has left the frame', () => {
    const way = extremesOf(size, { x: 40, y: 20, width: 10, height: 10 }, (frame) =>
      cornersOf({ x: 40 + frame * 5, y: 20 - 8 * Math.sin((Math.PI * frame) / 20), width: 10, height: 10 }),
    )
    expect([way?.highest.frame, way?.highest.spot[1]]).toEqual([10, 12])
    expect(way?.leaves).toBe(12)
    expect(way?.rightmost).toEqual({ frame: 20, spot: [150, expect.any(Number)] })
    // Its box never reached the edge of the frame: nothing is wanting there.
    expect(way?.gap).toBeNull()
  })

  test('a gap is told with its frames, its sides and its width, and closed by the smallest scale', () => {
    const move = (frame: number) => Math.max(0, frame - 15)
    const way = extremesOf(size, full, (frame) => at(move(frame), 0))
    expect(way?.gap).toEqual({ sides: ['left'], frames: [16, 17, 18, 19, 20], pixels: expect.closeTo(5, 9) })
    const scale = closingScale((factor) => extremesOf(size, full, (frame) => at(move(frame), 0, factor))?.gap !== null)
    // Half the width times the scale reaches 5 px farther: 55 / 50.
    expect(scale).toBeCloseTo(1.1, 2)
    expect(closingScale(() => true)).toBeNull()
  })

  test('a turned picture wants corners on all sides', () => {
    const turned = extremesOf(size, full, () =>
      cornersOf(full).map(([x, y]): Spot => {
        const [c, s] = [Math.cos(0.1), Math.sin(0.1)]
        return [50 + (x - 50) * c - (y - 25) * s, 25 + (x - 50) * s + (y - 25) * c]
      }),
    )
    expect(turned?.gap?.sides).toEqual(['top', 'right', 'bottom', 'left'])
  })
})

test('a placed element that leaves the edge is found, and its cure covers every frame', () => {
  const { width, height } = smallShot.frameSize
  const full = { x: 0, y: 0, width, height }
  const { shot } = applyEdit(smallShot, {
    kind: 'place-element',
    element: 'cg',
    placing: newPlacing(full, { x: [{ keyframes: { 1001: 0, 1008: 12 } }], rotation: [1] }),
  })
  const gap = wayOf(shot, 'cg')?.gap
  expect(gap?.frames).toHaveLength(10)
  expect(gap?.sides).toContain('left')
  const cure = coveringScale(shot, 'cg', 1001)
  expect(cure?.scale).toBeGreaterThan(1.05)
  const cured = made(shot, cure?.edit ?? null)
  expect(wayOf(cured, 'cg')?.gap).toBeNull()
  // No larger than it takes: a hundredth less leaves a gap.
  const less = made(shot, scaleAbout(shot, 'cg', 1001, [width / 2, height / 2], (cure?.scale ?? 2) - 0.01))
  expect(wayOf(less, 'cg')?.gap).not.toBeNull()
  expect(wayOf(smallShot, 'cg')).toBeNull()
})
