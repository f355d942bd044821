import { smallShot } from '../../../core/test/small-shot'
import type { Edit, Shot } from '../../../core/shot'
import { applyEdit } from '../../../core/shot'
import { shotActions, shotReducer, type ShotState } from './shot-slice'

const veil = (value: number, channel = 0): Edit => ({
  kind: 'set-parameter',
  at: { element: 'cg', treatment: 'match', parameter: 'veil', channel },
  frame: 1001,
  value,
})
const opened = shotReducer(undefined, shotActions.opened({ shot: smallShot, revision: 4, catalog: {} }))
const run = (...actions: Parameters<typeof shotReducer>[1][]) =>
  actions.reduce<ShotState>((state, action) => shotReducer(state, action), opened)
const red = ({ shot }: { shot: Shot | null }) => shot?.elements[2].treatments[0].parameters.veil[0]

test('opening selects the element that has something to set', () => expect(opened.selected).toBe('cg'))

test('a draft is not in the document, a committed edit is, and waits to be saved', () => {
  expect(red(run(shotActions.drafted(veil(0.5))))).toBe(0)
  const edited = run(shotActions.drafted(veil(0.5)), shotActions.edited(veil(0.5)))
  expect(red(edited)).toBe(0.5)
  expect(edited.draft).toBeNull()
  expect(edited.unsaved).toEqual([veil(0.5)])
})

test('an edit that changes nothing leaves no trace', () => {
  const same = run(shotActions.edited(veil(0)))
  expect([same.past, same.unsaved]).toEqual([[], []])
})

test('undo and redo walk through the changes and are edits of their own', () => {
  const twice = run(shotActions.edited(veil(0.1)), shotActions.edited(veil(0.2)))
  const back = shotReducer(twice, shotActions.undone())
  expect(red(back)).toBe(0.1)
  expect(red(shotReducer(back, shotActions.undone()))).toBe(0)
  expect(red(shotReducer(back, shotActions.redone()))).toBe(0.2)
  expect(back.unsaved).toHaveLength(3)
  expect(back.unsaved[2]).toMatchObject({ kind: 'restore', what: 'Undo: Veil red of CG' })
})

test('a new edit after undo forgets what was undone', () => {
  const state = run(shotActions.edited(veil(0.1)), shotActions.undone(), shotActions.edited(veil(0.3)))
  expect(state.future).toEqual([])
  expect(shotReducer(state, shotActions.redone())).toBe(state)
})

test('an acknowledgement brings other tabs’ changes, and keeps ours that are still unsaved', () => {
  const theirs = applyEdit(smallShot, veil(0.9, 2)).shot
  const server = applyEdit(theirs, veil(0.1)).shot
  const state = shotReducer(
    run(shotActions.edited(veil(0.1)), shotActions.edited(veil(0.2))),
    shotActions.acknowledged({ shot: server, revision: 6 }),
  )
  expect(state.shot?.elements[2].treatments[0].parameters.veil).toEqual([0.2, 0, 0.9])
  expect(state.unsaved).toEqual([veil(0.2)])
  expect(state.saving).toBe('saving')
})

test('news from another tab waits while an edit of ours is on its way, and never goes back in time', () => {
  const news = { shot: applyEdit(smallShot, veil(0.7)).shot, revision: 5 }
  expect(red(shotReducer(opened, shotActions.caughtUp(news)))).toBe(0.7)
  expect(red(shotReducer(opened, shotActions.caughtUp({ ...news, revision: 4 })))).toBe(0)
  expect(red(run(shotActions.edited(veil(0.2)), shotActions.caughtUp(news)))).toBe(0.2)
})

test('a refusal takes the server’s document and offers the edit again', () => {
  const shot = applyEdit(smallShot, veil(0.7)).shot
  const state = run(
    shotActions.edited(veil(0.2)),
    shotActions.refused({ message: 'no', edit: veil(0.2), shot, revision: 9 }),
  )
  expect(red(state)).toBe(0.7)
  expect(state).toMatchObject({ unsaved: [], revision: 9, conflict: { message: 'no', edit: veil(0.2) } })
})

test('tries are kept and taken by edits like any other, and can be taken back', () => {
  const tried = run(
    shotActions.edited({ kind: 'keep-try' }),
    shotActions.edited(veil(0.3)),
    shotActions.edited({ kind: 'take-try', id: 'try-1' }),
  )
  expect(red(tried)).toBe(0)
  expect(tried.shot?.tries?.map(({ name }) => name)).toEqual(['try 1', 'try 2'])
  const back = shotReducer(tried, shotActions.undone())
  expect(red(back)).toBe(0.3)
  expect(back.shot?.tries).toHaveLength(1)
})
