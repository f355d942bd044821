import fc from 'fast-check'
import { readTrackJson, trackJson } from './track-json'
import { UnusableTrackTableError } from './track-table'

test('what is written is read as it was, found or set by hand', () => {
  const coordinate = fc.double({ min: -9999, max: 9999, noNaN: true }).map((value) => value + 0)
  const share = fc.double({ min: 0, max: 1, noNaN: true }).map((value) => value + 0)
  const found = fc.record({ across: share, down: share, likeness: share })
  const point = fc.record(
    { frame: fc.integer(), x: coordinate, y: coordinate, found },
    { requiredKeys: ['frame', 'x', 'y'] },
  )
  const tracks = fc.array(
    fc.record({
      name: fc.string({ minLength: 1 }).filter((name) => name.trim() === name && name !== ''),
      points: fc.uniqueArray(point, { minLength: 1, selector: ({ frame }) => frame }),
    }),
    { minLength: 1, maxLength: 4 },
  )
  fc.assert(fc.property(tracks, (given) => expect(readTrackJson(trackJson(given), 'a.json')).toEqual(given)))
})

test('what the command line wrote of a point is one track, called as its file is', () => {
  const text = JSON.stringify({
    ...{ shot: 'quay-010', model: 'translation', stopped: null },
    points: [
      { frame: 1001, at: { x: 1, y: 2 }, error: { x: 0, y: 0 }, likeness: 1 },
      { frame: 1002, at: { x: 1.5, y: 2 }, error: { x: 0.02, y: 0.03 }, likeness: 0.97 },
    ],
  })
  expect(readTrackJson(text, 'rivet.json')).toEqual([
    {
      name: 'rivet',
      points: [
        { frame: 1001, x: 1, y: 2 },
        { frame: 1002, x: 1.5, y: 2, found: { across: 0.02, down: 0.03, likeness: 0.97 } },
      ],
    },
  ])
})

const withPoints = (points: string) => `{"tracks":[{"name":"a","points":[${points}]}]}`
test.each([
  ['{"tracks":', 'a.json is no JSON'],
  ['[]', 'a.json holds no tracks'],
  ['{"tracks":[]}', 'holds no tracks'],
  ['{"tracks":[{"name":"","points":[{"frame":1,"x":1,"y":1}]}]}', 'tracks[0].name'],
  [withPoints(''), 'tracks[0].points'],
  [withPoints('{"frame":1,"x":"left","y":1}'), 'tracks[0].points[0].x'],
  [withPoints('{"frame":1.5,"x":1,"y":1}'), 'must be an integer'],
  [withPoints('{"frame":1,"x":1,"y":1,"across":0.1}'), 'holds no tracks'],
  [withPoints('{"frame":1,"x":1,"y":1,"across":-1,"down":0,"likeness":1}'), 'across must be greater'],
  [withPoints('{"frame":1,"x":1,"y":1},{"frame":1,"x":2,"y":1}'), 'has frame 1 of a twice'],
])('%j is refused with what to do', (text, message) => {
  expect(() => readTrackJson(text, 'a.json')).toThrow(UnusableTrackTableError)
  expect(() => readTrackJson(text, 'a.json')).toThrow(message)
})
