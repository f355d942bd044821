import { planFrame } from '../plan/plan'
import { allThere, smallShot } from '../test/small-shot'
import {
  applyEdit,
  find,
  framesOfReferenceObject,
  onReferenceObject,
  usersOf,
  type Change,
  type Shot,
  type Source,
} from '.'

/** A ball that was shot in the place of the CG: the shot as it would be with it there. */

const source = (id: string, given: Partial<Source> = {}): Change => ({
  kind: 'add-source',
  source: { ...smallShot.sources.byId.cg, id, name: id, path: `${id}.####.exr`, forComparing: true, ...given },
})
const object = { id: 'ball', name: 'Ball', rank: 'a0', photographed: 'photo', rendered: 'own', insteadOf: 'cg' }
const addBall: Change = { kind: 'add-reference-object', referenceObject: object }
const after = (...edits: readonly Change[]): Shot => edits.reduce((shot, edit) => applyEdit(shot, edit).shot, smallShot)
const withBall = after(source('photo', { frames: { first: 1000, last: 1004 } }), source('own'), addBall)
const elementKeys = (shot: Shot) => {
  const { plate, elements } = planFrame(
    shot,
    1002,
    1,
    allThere(({ id }) => id),
  )
  return { plate: plate?.key, cg: elements.get('cg')?.key, shadow: elements.get('shadow')?.key }
}

test('photographs take the plate’s place and the render the other’s; what shows neither is as it was', () => {
  const seen = onReferenceObject(withBall, 'ball')
  if (!seen) throw new Error('there is no ball')
  const [plain, ball] = [elementKeys(withBall), elementKeys(seen)]
  expect([ball.plate === plain.plate, ball.cg === plain.cg, ball.shadow === plain.shadow]).toEqual([false, false, true])
  // Though both are for comparing only.
  expect(planFrame(seen, 1002, 1, allThere()).problems).toEqual([])
})

test('the render alone stands before the shot’s own plate', () => {
  const seen = onReferenceObject(withBall, 'ball', 'render alone')
  expect(seen && elementKeys(seen).plate).toBe(elementKeys(withBall).plate)
  expect(seen && elementKeys(seen).cg).not.toBe(elementKeys(withBall).cg)
})

test('the same shot gives the same, so that what is planned of it is remembered', () => {
  expect(onReferenceObject(withBall, 'ball')).toBe(onReferenceObject(withBall, 'ball'))
})

test('it is there on the frames that both have and the shot as well', () => {
  expect(framesOfReferenceObject(withBall, 'ball')).toEqual({ first: 1001, last: 1004 })
  const moved = after(source('photo', { frames: { first: 1, last: 3 }, offset: 2000 }), source('own'), addBall)
  expect(framesOfReferenceObject(moved, 'ball')).toBeNull()
})

test('where it, or one of its sources, is gone, there is none; undone, it is back', () => {
  const removed = applyEdit(withBall, { kind: 'remove-reference-object', referenceObject: 'ball' }).shot
  expect(find(removed.referenceObjects, 'ball')).toBeUndefined()
  expect([onReferenceObject(removed, 'ball'), framesOfReferenceObject(removed, 'ball')]).toEqual([null, null])
  const sourceless = applyEdit(withBall, { kind: 'remove-source', source: 'own' }).shot
  expect([onReferenceObject(sourceless, 'ball'), framesOfReferenceObject(sourceless, 'ball')]).toEqual([null, null])
})

test('who removes one of its sources is told of it', () => {
  for (const id of ['photo', 'own', 'cg'])
    expect(usersOf(withBall, { kind: 'source', id })).toContain('reference object Ball')
})

test('it needs three sources that are there, and a witness on it needs it', () => {
  const refused = (edit: Change, shot = withBall) => {
    try {
      applyEdit(shot, edit)
      return null
    } catch (error) {
      return (error as Error).message
    }
  }
  const other = { ...object, id: 'other' }
  expect(refused({ ...addBall, referenceObject: { ...other, rendered: 'photo' } } as Change)).toMatch(/three sources/)
  expect(refused({ ...addBall, referenceObject: { ...other, rendered: 'gone' } } as Change)).toMatch(/no source "gone"/)
  const side = { x: 0, y: 0, width: 8, height: 8 }
  const witness = {
    id: 'w',
    name: '1',
    rank: 'a0',
    purpose: 'mid',
    element: 'cg',
    reference: side,
    adjusted: side,
  } as const
  expect(refused({ kind: 'add-witness', witness: { ...witness, on: 'gone' } })).toMatch(/no reference object "gone"/)
  expect(refused({ kind: 'add-witness', witness: { ...witness, on: 'ball' } })).toBeNull()
})
