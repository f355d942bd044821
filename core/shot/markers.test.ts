import { smallShot } from '../test/small-shot'
import { mostStrokes } from './limits'
import { applyEdit, nextMarkerName, type Change, type Shot } from './index'

/** What is drawn on a frame belongs to its marker. */

const made = (shot: Shot, ...edits: Change[]) => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot)
const add: Change = { kind: 'add-marker', marker: { id: 'rim', name: 'Marker 7', frame: 1002 } }
const draw = (id: string): Change => ({ kind: 'draw-stroke', marker: 'rim', stroke: { id, points: [1, 2, 3.5, 4] } })

test('lines are added to a marker one by one, and taken away together; the marker stays', () => {
  const drawn = made(smallShot, add, draw('a'), draw('b'))
  expect(drawn.markers.byId.rim.strokes?.byId.b).toEqual({ id: 'b', points: [1, 2, 3.5, 4] })
  const bare = made(drawn, { kind: 'remove-strokes', marker: 'rim' })
  expect(bare.markers.byId.rim).toEqual({ id: 'rim', name: 'Marker 7', frame: 1002 })
})

test('on a marker that is gone nothing is drawn, and there is an end to what one takes', () => {
  expect(() => made(smallShot, draw('a'))).toThrow('There is no marker "rim" in this shot any more.')
  const full = made(smallShot, add, ...Array.from({ length: mostStrokes }, (_, i) => draw(`s${i}`)))
  expect(() => made(full, draw('more'))).toThrow(`at most ${mostStrokes} drawn lines`)
  expect(() => made(made(smallShot, add, draw('a')), draw('a'))).toThrow('already')
})

test('the next marker is numbered after the highest', () => {
  expect(nextMarkerName(smallShot)).toBe('Marker 1')
  expect(nextMarkerName(made(smallShot, add))).toBe('Marker 8')
})
