import { smallShot } from '../test/small-shot'
import { applyEdit, find, shotFramesOf, timedFrame, type PassInput, type Shot, type Timing } from '.'
import { barOf, movedBars, type BarPart } from './bars'

const range = shotFramesOf(smallShot.sources.byId.cg) ?? { first: 0, last: 0 }
/** The CG's files have these frames. */
const set = (shot: Shot, changes: Timing): Shot =>
  applyEdit(shot, { kind: 'set-timing', element: 'cg', input: 'pass', changes }).shot
const passOf = (shot: Shot) => shot.elements.byId.cg.inputs.byId.pass as PassInput
const bar = (shot: Shot) => barOf(shot, shot.elements.byId.cg)
/** Which file is shown on each frame. */
const files = (shot: Shot, frames: readonly number[]) => {
  const source = find(shot.sources, 'cg')
  return frames.map((frame) => {
    const shown = timedFrame(source ? shotFramesOf(source) : null, passOf(shot).timing, frame)
    return shown !== null && shown >= range.first && shown <= range.last ? shown : null
  })
}
function moved(shot: Shot, part: BarPart, by: number): Shot {
  const { edit, fault } = movedBars(shot, ['cg'], part, by)
  if (!edit) throw new Error(fault ?? 'no edit')
  return applyEdit(shot, edit).shot
}
const all = Array.from({ length: range.last - range.first + 1 }, (_, i) => range.first + i)

test('a bar is where something is shown, whatever its speed and offset', () => {
  expect(bar(smallShot)).toEqual(range)
  for (const timing of [
    { offset: 3 },
    { speed: 2 },
    { speed: 0.5, offset: -1 },
    { speed: -1, offset: 9 },
    { from: range.first + 2 },
  ]) {
    const shot = set(smallShot, timing)
    const found = bar(shot)
    for (let frame = range.first - 30; frame < range.last + 30; frame++) {
      const inside = found !== null && frame >= found.first && frame <= found.last
      expect(files(shot, [frame])[0] !== null).toBe(inside)
    }
  }
  expect(bar(set(smallShot, { beyond: 'loop' }))).toEqual({ first: -Infinity, last: Infinity })
})

test('moved, it shows the same files as many frames later, and its bounds go with it', () => {
  for (const timing of [{}, { from: range.first + 1, to: range.first + 4 }, { speed: 2 }, { speed: -1, offset: 9 }]) {
    const before = set(smallShot, timing)
    const after = moved(before, 'bar', 2)
    expect(
      files(
        after,
        all.map((frame) => frame + 2),
      ),
    ).toEqual(files(before, all))
  }
})

test('slipped, its bar stays and other files are shown in it', () => {
  const before = set(smallShot, { from: range.first + 2, to: range.first + 5 })
  const after = moved(before, 'slip', 1)
  expect(bar(after)).toEqual(bar(before))
  expect(files(after, [range.first + 3])).toEqual(files(before, [range.first + 2]))
})

test('its ends are moved, never past each other', () => {
  expect(bar(moved(smallShot, 'begin', 3))).toEqual({ first: range.first + 3, last: range.last })
  expect(bar(moved(smallShot, 'end', -4))).toEqual({ first: range.first, last: range.last - 4 })
  const short = moved(moved(smallShot, 'end', -4), 'begin', 100)
  expect(bar(short)).toEqual({ first: range.last - 4, last: range.last - 4 })
})

test('off the shot it is left where it is, with a sentence', () => {
  const { edit, fault } = movedBars(smallShot, ['cg'], 'bar', 500)
  expect(edit).toBeNull()
  expect(fault).toMatch(/would not be seen on any frame from 1001 to/)
  expect(movedBars(smallShot, ['cg'], 'bar', 0)).toEqual({ edit: null, fault: null })
})

test('several are moved as one', () => {
  const { edit } = movedBars(smallShot, ['cg', 'front'], 'bar', 1)
  expect(edit?.changes).toHaveLength(2)
  expect(edit?.label).toMatch(/and 1 more$/)
})

test('speed 0 and an end before the beginning are refused in a sentence', () => {
  expect(() => set(smallShot, { speed: 0 })).toThrow(/speed of .* is 0/)
  expect(() => set(smallShot, { from: 1005, to: 1003 })).toThrow('would end at 1003, before it begins at 1005')
})
