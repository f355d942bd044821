import { smallShot } from '../test/small-shot'
import { applyEdit, find, frameToCheck, outlineAt, type DrawnMatte, type Shape, type Shot } from '.'

const shapeIn = (shot: Shot) => find((find(shot.mattes, 'post') as DrawnMatte).shapes, 'outline') as Shape
const range = { first: 1001, last: 1048 }

test('the end first where the outline is held, then the middle of the widest gap, inside the frames where it is there', () => {
  const shape = shapeIn(smallShot)
  expect(frameToCheck(shape, range)).toEqual({ frame: 1048, departure: null })
  const ended = { ...shape, keyframes: { ...shape.keyframes, 1048: shape.keyframes[1005] } }
  expect(frameToCheck(ended, range)?.frame).toBe(1026)
  expect(frameToCheck({ ...shape, to: 1005 }, range)?.frame).toBe(1003)
  expect(frameToCheck({ ...shape, from: 1004, to: 1005 }, range)?.frame).toBe(1004)
  expect(frameToCheck({ ...shape, from: 1005, to: 1005 }, range)).toBeNull()
})

test('where departures were measured, the worst frame without a keyframe; small ones say nothing', () => {
  const shape = shapeIn(smallShot)
  expect(frameToCheck(shape, range, { 1001: 9, 1010: 1.2, 1030: 2.5, 1040: null })).toEqual({
    frame: 1030,
    departure: 2.5,
  })
  expect(frameToCheck(shape, range, { 1010: 0.3 })?.frame).toBe(1048)
})

/** What a shed's edge does beside a track on it while the camera pans: parallax, and a little turn. */
const truthAt = (frame: number) => {
  const t = (frame - 1001) / 47
  const [dx, dy, turn] = [7 * Math.sin(1.1 * Math.PI * t), 3 * t * t, 0.06 * t]
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  return (
    [
      [0, 0],
      [160, 10],
      [150, 120],
      [5, 110],
    ] as const
  ).map(([x, y]) => [200 + c * x - s * y + dx, 80 + s * x + c * y + dy] as const)
}
const toTruth = (shot: Shot, frame: number): Shot => {
  const places = Object.fromEntries(
    truthAt(frame).map(([x, y], i) => [`p${i}`, { x, y, before: [0, 0], after: [0, 0] } as const]),
  )
  return applyEdit(shot, { kind: 'set-shape-places', matte: 'post', shape: 'outline', frames: { [frame]: places } })
    .shot
}
const departureOn = (shot: Shot, frame: number) =>
  Math.max(
    ...outlineAt(shapeIn(shot), frame).map(({ x, y }, i) =>
      Math.hypot(x - truthAt(frame)[i][0], y - truthAt(frame)[i][1]),
    ),
  )

test.each([
  ['with departures measured', true],
  ['by gaps alone', false],
])('six keyframes where it says hold the edge within a pixel on 48 frames, %s', (_name, measured) => {
  let shot = toTruth(smallShot, 1001)
  shot = applyEdit(shot, { kind: 'set-shape-places', matte: 'post', shape: 'outline', frames: { 1005: null } }).shot
  const frames = Array.from({ length: 48 }, (_, i) => 1001 + i)
  for (let i = 1; i < 6; i++) {
    const departures = measured ? Object.fromEntries(frames.map((frame) => [frame, departureOn(shot, frame)])) : {}
    const next = frameToCheck(shapeIn(shot), range, departures)
    if (!next) break
    shot = toTruth(shot, next.frame)
  }
  expect(Object.keys(shapeIn(shot).keyframes).length).toBeLessThanOrEqual(6)
  for (const frame of frames) expect(departureOn(shot, frame)).toBeLessThan(1)
})
