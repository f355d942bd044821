import { smallShot, treated } from '../test/small-shot'
import {
  allOf,
  applyEdit,
  describeEdit,
  ImpossibleEditError,
  newTreatment,
  nextTryName,
  usesOf,
  usersOf,
  type Change,
  type Shot,
} from './index'

const edited = (shot: Shot, ...edits: readonly Change[]) => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot)
const gain = (value: number): Change => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'gain', channel: 0 },
  frame: 1001,
  value,
})
const keep = (id: string): Change => ({ kind: 'keep-try', id, name: id })
const use = (id: string, keepAs = 'before'): Change => ({ kind: 'use-try', id, keepAs: { id: keepAs, name: keepAs } })
const remove = (id: string): Change => ({ kind: 'remove-try', id })

test('a try stays as it was, and the picture is not made of it', () => {
  const kept = edited(smallShot, keep('one'), gain(2))
  const { plate, elements, treatments, uses } = smallShot
  expect(kept.tries.byId.one).toMatchObject({ name: 'one', plate, elements, treatments, uses })
  expect(kept.treatments).not.toEqual(smallShot.treatments)
  expect(describeEdit(kept, keep('two'))).toBe('Keep two')
})

test('using a try brings back how things were, and keeps how they are', () => {
  const shot = edited(smallShot, keep('one'), gain(2), use('one'))
  expect(shot.treatments).toEqual(smallShot.treatments)
  expect(shot.tries.byId.before.treatments).toEqual(edited(smallShot, gain(2)).treatments)
  // Nothing is kept twice.
  expect(allOf(edited(shot, use('before', 'x'), use('one', 'y')).tries)).toHaveLength(2)
})

test('a finish goes and comes with the try', () => {
  const finish = { kind: 'finish' } as const
  const graded = treated(smallShot, finish, newTreatment('saturation', 'grade'))
  const kept = edited(graded, keep('one'), { kind: 'remove-treatment', use: 'grade' })
  expect(usesOf(kept, finish)).toHaveLength(0)
  expect(usesOf(edited(kept, use('one')), finish)).toHaveLength(1)
})

test('a removed try is gone; one that is not there cannot be used or removed', () => {
  const two = edited(smallShot, keep('one'), keep('two'))
  expect(edited(two, remove('one'), remove('two'))).toEqual(smallShot)
  for (const edit of [use('nine'), remove('nine')]) expect(() => applyEdit(two, edit)).toThrow(ImpossibleEditError)
})

test('tries kept in two tabs at once are two tries, whatever they are called', () => {
  const name = nextTryName(smallShot)
  const both = edited(smallShot, { kind: 'keep-try', id: 'a', name }, { kind: 'keep-try', id: 'b', name })
  expect(allOf(both.tries).map((one) => one.name)).toEqual(['try 1', 'try 1'])
  expect(nextTryName(both)).toBe('try 2')
})

test('a source that only a try uses is told with its name', () => {
  const kept = edited(smallShot, keep('one'), { kind: 'remove-element', element: 'cg' })
  expect(usersOf(kept, { kind: 'source', id: 'cg' })).toEqual(['one: CG'])
})
