import { smallShot } from '../test/small-shot'
import {
  applyEdit,
  find,
  matteBase,
  matteMotion,
  newTreatment,
  outlineAt,
  outlineAlong,
  parseShot,
  usersOf,
  type Change,
  type DrawnMatte,
  type Shape,
  type Shot,
} from '.'
import { differences } from './differences'

const drawnIn = (shot: Shot) => find(shot.mattes, 'post') as DrawnMatte
const shapeIn = (shot: Shot) => find(drawnIn(shot).shapes, 'outline') as Shape
const named = { matte: 'post', shape: 'outline' } as const
const after = (shot: Shot, ...changes: readonly Change[]) =>
  changes.reduce((now, change) => applyEdit(now, change).shot, shot)
const place = (x: number, y: number) => ({ x, y, before: [0, 0], after: [0, 0] }) as const
const spots = (shot: Shot, frame: number) => outlineAt(shapeIn(shot), frame).map(({ x, y }) => [x, y])
/** Where the outline is seen in the frame. */
const seen = (shot: Shot, frame: number) =>
  outlineAlong(matteMotion(shot, drawnIn(shot), frame), outlineAt(shapeIn(shot), frame)).map(({ x, y }) => [x, y])

test('between keyframes the outline goes on evenly, beyond them it stays', () => {
  expect(spots(smallShot, 1003)[0]).toEqual([24, 12])
  expect(spots(smallShot, 990)).toEqual(spots(smallShot, 1001))
  expect(spots(smallShot, 1050)).toEqual(spots(smallShot, 1005))
})

test('moving a point on a frame without a keyframe makes one, with the others where they were', () => {
  const shot = after(smallShot, { kind: 'set-shape-places', ...named, frames: { 1003: { p1: place(90, 20) } } })
  expect(Object.keys(shapeIn(shot).keyframes)).toEqual(['1001', '1003', '1005'])
  expect(spots(shot, 1003)).toEqual([
    [24, 12],
    [90, 20],
    [64, 52],
    [24, 52],
  ])
})

test('two people move different points of one keyframe; an undo of one leaves the other', () => {
  const mine = applyEdit(smallShot, { kind: 'set-shape-places', ...named, frames: { 1001: { p0: place(1, 2) } } })
  const theirs = applyEdit(mine.shot, { kind: 'set-shape-places', ...named, frames: { 1001: { p2: place(3, 4) } } })
  const paths = (made: typeof mine) => made.patches.map(({ path }) => path.join('.'))
  for (const path of paths(mine))
    expect(paths(theirs).some((other) => other.startsWith(path) || path.startsWith(other))).toBe(false)
  expect(spots(theirs.shot, 1001)).toEqual([
    [1, 2],
    [60, 10],
    [3, 4],
    [20, 50],
  ])
})

test('a point more changes no keyframe’s line, and has a place on each', () => {
  const shot = after(smallShot, { kind: 'add-shape-point', ...named, point: 'more', after: 'p3', share: 0.5 })
  expect(spots(shot, 1001)).toEqual([
    [20, 10],
    [60, 10],
    [60, 50],
    [20, 50],
    [20, 30],
  ])
  expect(spots(shot, 1005)[4]).toEqual([28, 34])
})

test('pinning, another reference frame and unpinning move nothing on any keyframe', () => {
  const pin = (frame: number) => ({ tracks: ['corner'], frame, by: 'position' }) as const
  const shots = [
    after(smallShot, { kind: 'pin-matte', matte: 'post', pin: pin(1002) }),
    after(
      smallShot,
      { kind: 'pin-matte', matte: 'post', pin: pin(1002) },
      { kind: 'pin-matte', matte: 'post', pin: pin(1001) },
    ),
    after(
      smallShot,
      { kind: 'pin-matte', matte: 'post', pin: pin(1003) },
      { kind: 'pin-matte', matte: 'post', pin: null },
    ),
  ]
  for (const shot of shots)
    for (const frame of [1001, 1005])
      seen(shot, frame).forEach(([x, y], i) => {
        expect(x).toBeCloseTo(seen(smallShot, frame)[i][0], 9)
        expect(y).toBeCloseTo(seen(smallShot, frame)[i][1], 9)
      })
  // Between keyframes it goes with the track now.
  expect(seen(shots[0], 1002)[0][0]).not.toBeCloseTo(seen(smallShot, 1002)[0][0], 2)
  expect(usersOf(shots[0], { kind: 'track', id: 'corner' })).toContain('matte Post')
})

const impossible: readonly (readonly [string, Change, RegExp])[] = [
  ['two points', { kind: 'remove-shape-points', ...named, points: ['p0', 'p1'] }, /fewer than three points/],
  ['no keyframe', { kind: 'set-shape-places', ...named, frames: { 1001: null, 1005: null } }, /would be nowhere/],
  [
    'a point that is gone',
    { kind: 'set-shape-places', ...named, frames: { 1001: { gone: place(1, 1) } } },
    /point of Outline is gone/,
  ],
  [
    'an end before the beginning',
    { kind: 'set-shape', ...named, changes: { from: 1005, to: 1002 } },
    /would end at 1002/,
  ],
  ['shapes of what is keyed', { kind: 'remove-shape', matte: 'bright', shape: 'x' }, /Bright is not drawn/],
  [
    'an element of what is drawn',
    { kind: 'set-matte', matte: 'post', changes: { element: 'cg' } },
    /which has no element/,
  ],
  [
    'a matte of itself',
    {
      kind: 'together',
      changes: [
        {
          kind: 'add-matte',
          matte: {
            id: 'a',
            name: 'A',
            rank: 'a5',
            kind: 'combined',
            parameters: { soften: [0], opacity: [1] },
            parts: { byId: {} },
          },
        },
        {
          kind: 'set-matte',
          matte: 'a',
          changes: { parts: { self: { id: 'self', rank: 'a0', matte: 'a', how: 'add' } } },
        },
      ],
    },
    /A cannot be made of itself/,
  ],
]
test.each(impossible)('%s is refused with a sentence', (_name, change, says) => {
  expect(() => applyEdit(smallShot, change)).toThrow(says)
})

test('a channel matte is of another channel then; nothing else has one', () => {
  const matte = { ...matteBase(smallShot, 'channel'), id: 'front', source: 'matte', part: null, channel: null }
  const of = { source: 'cg', part: 'beauty', channel: 'A' }
  const shot = after(smallShot, { kind: 'add-matte', matte }, { kind: 'set-matte', matte: 'front', changes: { of } })
  expect(find(shot.mattes, 'front')).toMatchObject(of)
  expect(() => after(smallShot, { kind: 'set-matte', matte: 'post', changes: { of } })).toThrow(/which has no channel/)
})

test('what differs is said', () => {
  const moved = after(
    smallShot,
    { kind: 'set-shape-places', ...named, frames: { 1001: { p0: place(1, 2) } } },
    {
      kind: 'set-parameter',
      at: { owner: { kind: 'shape', matte: 'post', id: 'outline' }, parameter: 'outside', channel: 0 },
      frame: 1001,
      value: 8,
    },
    { kind: 'set-matte', matte: 'bright', changes: { choices: { by: 'red' } } },
  )
  expect(differences(smallShot, moved)).toEqual([
    'outer of Outline of matte Post 0.0 to 8.0',
    'outline of Outline of matte Post',
    'what matte Bright is made of',
  ])
})

test('mattes of schema 8 keep what they are, and can be grown from then on', () => {
  const { grow: _grow, ...before } = smallShot.mattes.byId.post.parameters
  const post = { ...smallShot.mattes.byId.post, parameters: before }
  const { bright } = smallShot.mattes.byId
  const { grow: _also, colour: _colour, ...ofBright } = bright.parameters
  const old = { ...smallShot, schema: 8, mattes: { byId: { post, bright: { ...bright, parameters: ofBright } } } }
  const read = parseShot(JSON.parse(JSON.stringify(old)), 'old.shot.json')
  expect(read.schema).toBe(10)
  expect(read.mattes).toEqual(smallShot.mattes)
})

const kept = {
  id: 'other',
  rank: 'a0',
  name: 'Other',
  parameters: newTreatment('backing-key', 'key').parameters,
  points: { byId: {} },
}

test('a backing key of schema 9 shows all but the backing, in its tries and in tries of the shot too', () => {
  const key = newTreatment('backing-key', 'key')
  const { shows: _shows, ...choices } = key.choices ?? {}
  const before = { ...key, choices, tries: { byId: { other: { ...kept, choices } } } }
  const treatments = { byId: { ...smallShot.treatments.byId, key: before } }
  const { plate, elements, uses } = smallShot
  const tries = {
    byId: { one: { ...{ id: 'one', rank: 'a0', name: 'Try 1' }, ...{ plate, elements, uses, treatments } } },
  }
  const read = parseShot(JSON.parse(JSON.stringify({ ...smallShot, schema: 9, treatments, tries })), 'old.shot.json')
  const now = read.treatments.byId.key
  expect([now.choices?.shows, now.tries?.byId.other.choices?.shows]).toEqual(['all', 'all'])
  expect(read.tries.byId.one.treatments.byId.key.choices).toEqual({ ...choices, shows: 'all' })
  expect(read.treatments.byId.match).toEqual(smallShot.treatments.byId.match)
})

test('a depth slice and a band name what they are made of, and change it by an edit', () => {
  const depths: Change = {
    kind: 'add-matte',
    matte: { ...matteBase(smallShot, 'depth'), ...{ id: 'slice', source: 'cg', part: null, channel: 'Z' } },
  }
  const edge: Change = { kind: 'add-matte', matte: { ...matteBase(smallShot, 'band'), id: 'edge', matte: 'post' } }
  const shot = after(smallShot, depths, edge)
  expect(usersOf(shot, { kind: 'source', id: 'cg' })).toContain('matte Matte 1')
  expect(usersOf(shot, { kind: 'matte', id: 'post' })).toEqual(['matte Matte 1'])
  const set = (matte: string, changes: object): Change => ({ kind: 'set-matte', matte, changes }) as Change
  const changed = after(
    shot,
    set('edge', { edgeOf: 'bright' }),
    set('slice', { of: { source: 'matte', part: null, channel: null } }),
  )
  expect(changed.mattes.byId.edge).toMatchObject({ matte: 'bright' })
  expect(changed.mattes.byId.slice).toMatchObject({ source: 'matte', channel: null })
  expect(() => after(shot, set('edge', { edgeOf: 'edge' }))).toThrow('cannot be made of itself')
  expect(() => after(shot, set('post', { edgeOf: 'bright' }))).toThrow('has no matte whose edge it is')
})

test('what a matte is made of cannot be taken away from it', () => {
  const set = (matte: string, changes: object): Change => ({ kind: 'set-matte', matte, changes }) as Change
  expect(() => after(smallShot, set('bright', { choices: null }))).toThrow('Bright cannot do without choices.')
  const objects: Change = {
    kind: 'add-matte',
    matte: {
      ...matteBase(smallShot, 'objects'),
      ...{ id: 'ids', source: 'cg', ranked: false, layers: [{ part: null, channels: ['id'] }], objects: { rope: 4 } },
    },
  }
  const shot = after(smallShot, objects)
  expect(() => after(shot, set('ids', { objects: null }))).toThrow('cannot do without objects')
  expect(() => after(shot, set('ids', { ids: null }))).toThrow('cannot do without ids')
  expect(after(shot, set('ids', { inverted: null })).mattes.byId.ids).toMatchObject({ objects: { rope: 4 } })
})
