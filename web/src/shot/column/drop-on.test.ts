import { smallShot } from '../../../../core/test/small-shot'
import { applyEdit, elementsInOrder, group, type Shot } from '../../../../core/shot'
import { chosenBetween } from './chosen-between'
import { dropOn } from './drop-on'

const order = (shot: Shot) => elementsInOrder(shot).map(({ element, depth }) => `${'>'.repeat(depth)}${element.id}`)
const dropped = (shot: Shot, ids: readonly string[], moved: string, over: string) => {
  const edit = dropOn(shot, ids, moved, over)
  return edit ? order(applyEdit(shot, edit).shot) : null
}

test('let go on a nearer line it comes in front of it, on a farther one behind it', () => {
  expect(dropped(smallShot, ['shadow'], 'shadow', 'cg')).toEqual(['plate', 'cg', 'shadow', 'front'])
  expect(dropped(smallShot, ['front'], 'front', 'shadow')).toEqual(['plate', 'front', 'shadow', 'cg'])
})

test('nothing comes to lie behind the plate, and nothing moves onto itself', () => {
  expect(dropped(smallShot, ['cg'], 'cg', 'plate')).toEqual(['plate', 'cg', 'shadow', 'front'])
  expect(dropped(smallShot, ['cg'], 'cg', 'cg')).toBeNull()
  expect(dropped(smallShot, ['cg', 'front'], 'cg', 'front')).toBeNull()
  expect(dropped(smallShot, ['cg'], 'cg', 'gone')).toBeNull()
})

test('all that are chosen go along, in their order', () => {
  expect(dropped(smallShot, ['front', 'cg'], 'front', 'shadow')).toEqual(['plate', 'cg', 'front', 'shadow'])
})

test('let go on a line of a group it is in that group', () => {
  const made = group(smallShot, ['cg', 'front'], 'Bell')
  if (!made) throw new Error('There is no group.')
  const shot = applyEdit(smallShot, made.edit).shot
  expect(dropped(shot, ['shadow'], 'shadow', 'cg')).toEqual(['plate', made.id, '>cg', '>shadow', '>front'])
})

test('with Shift everything between is chosen, the last pressed first', () => {
  const ids = ['a', 'b', 'c', 'd']
  expect(chosenBetween(ids, 'b', 'd')).toEqual(['d', 'b', 'c'])
  expect(chosenBetween(ids, 'd', 'b')).toEqual(['b', 'c', 'd'])
  expect(chosenBetween(ids, 'gone', 'c')).toEqual(['c'])
})
