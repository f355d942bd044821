import fc from 'fast-check'
import { readTrackTable, trackTable, UnusableTrackTableError } from './track-table'

const table = `track,frame,x,y,across,down,likeness
Rivet,1001,12.5,30.25,,,
Rivet,1002,13,30,0.02,0.03,0.98
"Lamp, left",1001,400,1.5,,,
`

test('a table as other programs write it is read: a line for each frame, quotes where a name has a comma', () => {
  const tracks = readTrackTable(table, 'tracks.csv')
  expect(tracks).toEqual([
    {
      name: 'Rivet',
      points: [
        { frame: 1001, x: 12.5, y: 30.25 },
        { frame: 1002, x: 13, y: 30, found: { across: 0.02, down: 0.03, likeness: 0.98 } },
      ],
    },
    { name: 'Lamp, left', points: [{ frame: 1001, x: 400, y: 1.5 }] },
  ])
  expect(trackTable(tracks)).toBe(table)
})

test('without names it is one track, called as the file is; columns may stand in any order, more of them do no harm', () => {
  expect(readTrackTable('y,frame,x,weight\r\n2,5,1,9\r\n', 'corner.csv')).toEqual([
    { name: 'corner', points: [{ frame: 5, x: 1, y: 2 }] },
  ])
})

test('what is written is read as it was, whatever the names and numbers', () => {
  const coordinate = fc.double({ min: -9999, max: 9999, noNaN: true }).map((value) => value + 0)
  const tracks = fc.uniqueArray(
    fc.record({
      name: fc.string({ minLength: 1 }).filter((name) => name.trim() === name && name !== ''),
      points: fc.uniqueArray(fc.record({ frame: fc.integer(), x: coordinate, y: coordinate }), {
        minLength: 1,
        selector: ({ frame }) => frame,
      }),
    }),
    { minLength: 1, maxLength: 4, selector: ({ name }) => name },
  )
  fc.assert(fc.property(tracks, (given) => expect(readTrackTable(trackTable(given), 'a.csv')).toEqual(given)))
})

test.each([
  ['x,y\n1,2\n', 'a.csv has no column frame'],
  ['frame,x,y\n', 'no lines below its columns'],
  ['frame,x,y\n1,2,3\n2,left,3\n', 'no number in the column x of line 3: "left"'],
  ['frame,x,y\n1.5,2,3\n', 'has the frame 1.5 in line 2'],
  ['frame,x,y\n1,2,3\n1,4,5\n', 'has frame 1 of a twice, the second time in line 3'],
  ['', 'has no column frame, x, y'],
])('%j is refused with the line and what to do', (text, message) => {
  expect(() => readTrackTable(text, 'a.csv')).toThrow(UnusableTrackTableError)
  expect(() => readTrackTable(text, 'a.csv')).toThrow(message)
})
