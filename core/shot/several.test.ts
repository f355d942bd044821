import { keyframesOf } from '../motion/curve'
import { smallShot } from '../test/small-shot'
import { applyEdit, newPlacing, takeBack, type Shot, type Together } from '.'
import { allKeyed, keyAll, onAll, tagAll } from './several'

const chosen = ['plate', 'shadow', 'cg']
const made = (shot: Shot, edit: Together | null) => {
  if (!edit) throw new Error('There is nothing to do.')
  return applyEdit(shot, edit)
}
const framesOf = (shot: Shot, id: string) =>
  keyframesOf(shot.elements.byId[id].parameters.opacity[0]).map(({ frame }) => frame)

test('a keyframe of opacity is set on all, and taken from all once all have one; the plate has none', () => {
  const one = made(smallShot, keyAll(smallShot, ['cg'], 1003)).shot
  expect(allKeyed(one, chosen, 1003)).toBe(false)
  const both = made(one, keyAll(one, chosen, 1003))
  expect([framesOf(both.shot, 'cg'), framesOf(both.shot, 'shadow')]).toEqual([[1003], [1003]])
  expect(allKeyed(both.shot, chosen, 1003)).toBe(true)
  const none = made(both.shot, keyAll(both.shot, chosen, 1003)).shot
  expect([framesOf(none, 'cg'), framesOf(none, 'shadow')]).toEqual([[], []])
  expect(takeBack(both.shot, both).shot).toEqual(one)
  expect(keyAll(smallShot, ['plate'], 1003)).toBeNull()
})

test('a tag is added to those that lack it, in one step', () => {
  const first = made(smallShot, tagAll(smallShot, ['cg'], ' metal ')).shot
  const both = made(first, tagAll(first, ['cg', 'front'], 'metal'))
  expect([both.shot.elements.byId.cg.tags, both.shot.elements.byId.front.tags]).toEqual([['metal'], ['metal']])
  expect(both.label).toBe('Tag metal on Front')
  expect(takeBack(both.shot, both).shot).toEqual(first)
  expect(tagAll(both.shot, ['cg'], 'metal')).toBeNull()
  expect(tagAll(smallShot, ['cg'], '  ')).toBeNull()
})

describe('a change made on all that are chosen', () => {
  const box = { x: 0, y: 0, width: 40, height: 40 }
  const placed = [
    ['cg', 5],
    ['front', 20],
  ].reduce(
    (shot, [id, x]) =>
      applyEdit(shot, {
        kind: 'place-element',
        element: id as string,
        placing: newPlacing(box, { x: [x as number] }),
      }).shot,
    smallShot,
  )
  const at = { owner: { kind: 'placing', element: 'cg' }, parameter: 'x', channel: 0 } as const
  const x = (shot: Shot, id: string) => shot.elements.byId[id].placing?.parameters.x[0]

  test('what is placed is moved by as much, and keyed together', () => {
    const moved = applyEdit(
      placed,
      onAll(placed, ['cg', 'front'], { kind: 'set-parameter', at, frame: 1001, value: 12 }),
    ).shot
    expect([x(moved, 'cg'), x(moved, 'front')]).toEqual([12, 27])
    const keyed = applyEdit(placed, onAll(placed, ['front', 'cg'], { kind: 'add-keyframe', at, frame: 1004 })).shot
    for (const id of ['cg', 'front']) expect(x(keyed, id)).toMatchObject({ keyframes: { 1004: { to: 'smooth' } } })
  })

  test('an opacity is the same on all; what is not among the chosen changes alone', () => {
    const opacity = { owner: { kind: 'element', id: 'cg' }, parameter: 'opacity', channel: 0 } as const
    const edit = { kind: 'set-parameter', at: opacity, frame: 1001, value: 0.4 } as const
    const all = applyEdit(placed, onAll(placed, ['plate', 'cg', 'front'], edit)).shot
    expect(['plate', 'cg', 'front'].map((id) => all.elements.byId[id].parameters.opacity[0])).toEqual([1, 0.4, 0.4])
    expect(onAll(placed, ['front', 'shadow'], edit)).toBe(edit)
    expect(onAll(placed, ['cg'], edit)).toBe(edit)
  })
})
