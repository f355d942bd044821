import { keyframesOf } from '../motion/curve'
import { smallShot } from '../test/small-shot'
import { applyEdit, takeBack, type Shot, type Together } from '.'
import { allKeyed, keyAll, tagAll } from './several'

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
