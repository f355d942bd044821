import { inverseOf } from '../motion/mapping'
import { smallShot } from '../test/small-shot'
import {
  applyEdit,
  changedPoints,
  drawnShape,
  find,
  keyframeAsOn,
  keyframeHere,
  ledPoints,
  movedHandle,
  movedPoints,
  oddities,
  seenOutline,
  sharesOfMove,
  slidKeyframes,
  throughSpots,
  pointsBecome,
  type Change,
  type DrawnMatte,
  type Shape,
  type ShapeNow,
  type Shot,
} from '.'

const now = (shot: Shot, frame: number): ShapeNow => {
  const matte = find(shot.mattes, 'post') as DrawnMatte
  return { shot, matte, shape: find(matte.shapes, 'outline') as Shape, frame }
}
const after = (shot: Shot, change: Change | null) => applyEdit(shot, change as Change).shot
const seen = (shot: Shot, frame: number) => seenOutline(now(shot, frame)).map(({ x, y }) => [x, y])
const pinned = after(smallShot, {
  kind: 'pin-matte',
  matte: 'post',
  pin: { tracks: ['corner'], frame: 1001, by: 'position' },
})

test.each([
  ['this', [1001, 1003, 1005]],
  ['all', [1001, 1005]],
  ['on', [1001, 1003, 1005]],
] as const)('points moved on %s keyframes', (keyframes, frames) => {
  const shot = after(smallShot, movedPoints(now(smallShot, 1003), ['p0', 'p1'], [10, 10], [13, 8], keyframes))
  expect(Object.keys(now(shot, 1003).shape.keyframes).map(Number)).toEqual(frames)
  const by = (frame: number) =>
    seen(shot, frame).map(([x, y], i) => [x - seen(smallShot, frame)[i][0], y - seen(smallShot, frame)[i][1]])
  expect(by(1003)).toEqual([
    [3, -2],
    [3, -2],
    [0, 0],
    [0, 0],
  ])
  expect(by(1001)[0]).toEqual(keyframes === 'all' ? [3, -2] : [0, 0])
  expect(by(1005)[0]).toEqual(keyframes === 'this' ? [0, 0] : [3, -2])
})

test('on a track a point is moved to where the hand has it in the picture', () => {
  const shot = after(pinned, movedPoints(now(pinned, 1003), ['p2'], [0, 0], [5, 7], 'this'))
  const [was, is] = [seen(pinned, 1003)[2], seen(shot, 1003)[2]]
  expect(is[0] - was[0]).toBeCloseTo(5, 2)
  expect(is[1] - was[1]).toBeCloseTo(7, 2)
  expect(seen(shot, 1003)[1][0]).toBeCloseTo(seen(pinned, 1003)[1][0], 2)
})

test('points turned about a place of the picture, and back, are where they were', () => {
  const turn = [0, -1, 90, 1, 0, 10, 0, 0, 1] as const
  const all = ['p0', 'p1', 'p2', 'p3']
  const there = after(pinned, ledPoints(now(pinned, 1002), all, turn, 'this'))
  expect(seen(there, 1002)[0]).not.toEqual(seen(pinned, 1002)[0])
  const back = after(there, ledPoints(now(there, 1002), all, inverseOf(turn) as never, 'this'))
  seen(back, 1002).forEach(([x, y], i) => {
    expect(x).toBeCloseTo(seen(pinned, 1002)[i][0], 2)
    expect(y).toBeCloseTo(seen(pinned, 1002)[i][1], 2)
  })
})

test('a handle is put where the hand has it; the other stays in line with it, of a corner it stays', () => {
  const smooth = after(smallShot, pointsBecome(now(smallShot, 1001), ['p0'], 'smooth'))
  const { before, after: on } = now(smooth, 1001).shape.keyframes[1001].p0
  // Between its neighbours (60, 10) and (20, 50).
  expect(on[0]).toBeCloseTo(-on[1], 2)
  expect(before[0]).toBeCloseTo(-on[0], 2)
  const moved = after(smooth, movedHandle(now(smooth, 1001), 'p0', 'after', [30, 10], 'this'))
  const place = now(moved, 1001).shape.keyframes[1001].p0
  expect(place.after).toEqual([10, 0])
  expect(place.before[1]).toBeCloseTo(0, 3)
  expect(Math.hypot(...place.before)).toBeCloseTo(Math.hypot(...before), 2)
  const corner = after(smallShot, {
    kind: 'set-shape',
    matte: 'post',
    shape: 'outline',
    changes: { corners: { p0: true } },
  })
  const pulled = after(corner, movedHandle(now(corner, 1001), 'p0', 'after', [30, 10], 'this'))
  expect(now(pulled, 1001).shape.keyframes[1001].p0).toMatchObject({ after: [10, 0], before: [0, 0] })
})

test('a broken point keeps the line as it is, and each handle moves by itself then; a corner gets handles to be moved', () => {
  const smooth = after(smallShot, pointsBecome(now(smallShot, 1001), ['p0'], 'smooth'))
  const broken = after(smooth, pointsBecome(now(smooth, 1001), ['p0'], 'broken'))
  const placeIn = (shot: Shot, frame = 1001) => now(shot, frame).shape.keyframes[frame].p0
  expect(placeIn(broken)).toEqual(placeIn(smooth))
  const moved = after(broken, movedHandle(now(broken, 1001), 'p0', 'after', [30, 10], 'this'))
  expect(placeIn(moved)).toMatchObject({ after: [10, 0], before: placeIn(smooth).before })
  const twice = after(moved, pointsBecome(now(moved, 1001), ['p0'], 'broken'))
  expect(placeIn(twice)).toEqual(placeIn(moved))
  const corner = after(smooth, pointsBecome(now(smooth, 1001), ['p0'], 'corner'))
  expect(placeIn(corner)).toMatchObject({ before: [0, 0], after: [0, 0] })
  const again = after(corner, pointsBecome(now(corner, 1001), ['p0'], 'broken'))
  // On every keyframe.
  for (const frame of [1001, 1005]) {
    expect(placeIn(again, frame).after[0]).toBeCloseTo(placeIn(smooth, frame).after[0], 2)
    expect(placeIn(again, frame).before[1]).toBeCloseTo(placeIn(smooth, frame).before[1], 2)
  }
  expect(now(again, 1001).shape.points.byId.p0.corner).toBe(true)
  expect(applyEdit(corner, pointsBecome(now(corner, 1001), ['p0'], 'broken')).label).toBe('Broken points of Outline')
})

test('a keyframe made here changes nothing', () => {
  const shot = after(smallShot, keyframeHere(now(smallShot, 1003)))
  expect(seen(shot, 1003)).toEqual(seen(smallShot, 1003))
  seen(shot, 1004).forEach(([x], i) => expect(x).toBeCloseTo(seen(smallShot, 1004)[i][0], 6))
  expect(applyEdit(smallShot, keyframeHere(now(smallShot, 1003))).label).toBe('Keyframe of Outline of Post')
})

test('what is drawn on a frame lies there, in a new matte or in one that is pinned', () => {
  const spots = [
    [100, 20],
    [150, 30],
    [120, 70],
  ] as const
  const outline = throughSpots(spots.map((spot, i) => ({ spot, corner: i === 0 })))
  expect(outline[0].after).toEqual([0, 0])
  expect(Math.hypot(...outline[1].after)).toBeGreaterThan(5)
  for (const [shot, matte] of [
    [smallShot, null],
    [pinned, find(pinned.mattes, 'post') as DrawnMatte],
  ] as const) {
    const drawn = drawnShape(shot, matte, 1003, outline, [true, false, false])
    const next = after(shot, drawn?.edit ?? null)
    const made = find(next.mattes, drawn?.matte ?? '') as DrawnMatte
    const shape = find(made.shapes, drawn?.shape ?? '') as Shape
    const lies = seenOutline({ shot: next, matte: made, shape, frame: 1003 })
    lies.forEach(({ x, y }, i) => {
      expect(x).toBeCloseTo(spots[i][0], 2)
      expect(y).toBeCloseTo(spots[i][1], 2)
    })
  }
})

test('a shape that crosses itself, lies outside or is not there is told by a sentence that names the frame', () => {
  expect(oddities(now(smallShot, 1001))).toEqual([])
  const crossed = after(smallShot, movedPoints(now(smallShot, 1001), ['p1'], [60, 10], [10, 30], 'this'))
  expect(oddities(now(crossed, 1001))[0]).toMatch(/^Outline crosses itself on 1001/)
  const all = ['p0', 'p1', 'p2', 'p3']
  const away = after(smallShot, movedPoints(now(smallShot, 1001), all, [0, 0], [-100, 0], 'this'))
  expect(oddities(now(away, 1001))[0]).toMatch(/^All of Outline lies outside the frame on 1001/)
  const gone = after(smallShot, { kind: 'set-shape', matte: 'post', shape: 'outline', changes: { from: 1004 } })
  expect(oddities(now(gone, 1001))).toEqual(['Outline is not there on 1001.'])
})

test('feather of a point is its own, and is gone again at 0', () => {
  const feathered = (shot: Shot, feather: number) =>
    after(
      shot,
      changedPoints(now(shot, 1001), ['p1'], 'all', (place) => ({ ...place, feather })),
    )
  const soft = feathered(smallShot, 12)
  expect([1001, 1005].map((frame) => now(soft, frame).shape.keyframes[frame].p1.feather)).toEqual([12, 12])
  expect(now(soft, 1001).shape.keyframes[1001].p0.feather).toBeUndefined()
  expect(now(feathered(soft, 0), 1001).shape.keyframes[1001].p1.feather).toBeUndefined()
})

test('places are kept to a thousandth of a pixel', () => {
  const edit = changedPoints(now(smallShot, 1001), ['p0'], 'this', (place) => ({ ...place, x: 1 / 3 }))
  expect(edit.frames[1001]?.p0.x).toBe(0.333)
})

describe('others go along', () => {
  test('all where it is chosen, none from the reach on, gently between', () => {
    const shares = sharesOfMove(now(smallShot, 1001), ['p0'], 80)
    // The square's sides are 40 long: a half of the reach; across it is 56.6.
    expect(shares.get('p0')).toBe(1)
    expect(shares.get('p1')).toBeCloseTo(0.5, 6)
    expect(shares.get('p3')).toBeCloseTo(0.5, 6)
    const t = Math.SQRT1_2
    expect(shares.get('p2')).toBeCloseTo(1 - t * t * (3 - 2 * t), 6)
    expect([...sharesOfMove(now(smallShot, 1001), ['p0'], 40).keys()]).toEqual(['p0'])
    expect([...sharesOfMove(now(smallShot, 1001), ['p0', 'p2'], 0)]).toEqual([
      ['p0', 1],
      ['p2', 1],
    ])
  })

  test('a moved point takes its neighbours along by their share, on a track too', () => {
    for (const shot of [smallShot, pinned]) {
      const moved = after(shot, movedPoints(now(shot, 1001), ['p0'], [0, 0], [10, -4], 'this', 80))
      const by = seen(moved, 1001).map(([x, y], i) => [x - seen(shot, 1001)[i][0], y - seen(shot, 1001)[i][1]])
      expect(by[0]).toEqual([10, -4])
      expect(by[1]).toEqual([expect.closeTo(5, 2), expect.closeTo(-2, 2)])
      expect(seen(moved, 1005)).toEqual(seen(shot, 1005))
    }
  })

  test('turned and scaled they go part of the way', () => {
    // Twice as large about the first point, in which the others have a half.
    const shot = after(smallShot, ledPoints(now(smallShot, 1001), ['p0'], [2, 0, -20, 0, 2, -10, 0, 0, 1], 'this', 80))
    expect(seen(shot, 1001)[0]).toEqual([20, 10])
    expect(seen(shot, 1001)[1]).toEqual([expect.closeTo(80, 2), 10])
  })
})

describe('keyframes slid and copied', () => {
  const framesIn = (shot: Shot) => Object.keys(now(shot, 1001).shape.keyframes).map(Number)

  test('one is slid, the other stays', () => {
    const shot = after(smallShot, slidKeyframes(now(smallShot, 1001), 1005, -2))
    expect(framesIn(shot)).toEqual([1001, 1003])
    expect(seen(shot, 1003)).toEqual(seen(smallShot, 1005))
  })

  test('all are slid, over each other’s places', () => {
    const shot = after(smallShot, slidKeyframes(now(smallShot, 1001), null, 4))
    expect(framesIn(shot)).toEqual([1005, 1009])
    expect([seen(shot, 1005), seen(shot, 1009)]).toEqual([seen(smallShot, 1001), seen(smallShot, 1005)])
  })

  test('one that is slid onto another takes its place; by nothing, or of no keyframe, there is no edit', () => {
    const shot = after(smallShot, slidKeyframes(now(smallShot, 1001), 1001, 4))
    expect(framesIn(shot)).toEqual([1005])
    expect(seen(shot, 1005)).toEqual(seen(smallShot, 1001))
    expect(slidKeyframes(now(smallShot, 1001), null, 0.2)).toBeNull()
    expect(slidKeyframes(now(smallShot, 1001), 1002, 3)).toBeNull()
  })

  test('a copy lies as the one it is of, in the space that the matte moves in', () => {
    const shot = after(smallShot, keyframeAsOn(now(smallShot, 1008), 1001))
    expect(framesIn(shot)).toEqual([1001, 1005, 1008])
    expect(seen(shot, 1008)).toEqual(seen(smallShot, 1001))
    const onTrack = after(pinned, keyframeAsOn(now(pinned, 1003), 1001))
    // The track has moved by 6, 1 from 1001 to 1003.
    expect(seen(onTrack, 1003)[0]).toEqual([26, 11])
  })
})
