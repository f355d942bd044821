import { smallShot } from '../../../core/test/small-shot'
import { allOf, applyEdit, type Change, type Shot } from '../../../core/shot'
import { shotActions, shotReducer, type ShotState } from './shot-slice'

const veil = (value: number, channel = 0): Change => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel },
  frame: 1001,
  value,
})
const opened = shotReducer(undefined, shotActions.opened({ id: 's', shot: smallShot, revision: 4, catalog: {} }))
const after = (state: ShotState, ...actions: Parameters<typeof shotReducer>[1][]) =>
  actions.reduce<ShotState>((now, action) => shotReducer(now, action), state)
const run = (...actions: Parameters<typeof shotReducer>[1][]) => after(opened, ...actions)
const colours = ({ shot }: { shot: Shot | null }) => shot?.treatments.byId.match.parameters.veil
const red = (state: { shot: Shot | null }) => colours(state)?.[0]

test('opening selects the element that has something to set', () =>
  expect(opened.selection.primary).toEqual({ kind: 'element', id: 'cg' }))

test('what covers comes before what is added as light, though that is matched as well and lies farther', () => {
  const [own] = allOf(smallShot.uses).filter(({ treatment }) => treatment === 'match')
  const { shadow } = smallShot.elements.byId
  const light = { ...shadow, blend: { kind: 'add', parameters: { amount: 1 } } } as unknown as typeof shadow
  const shot: Shot = {
    ...smallShot,
    elements: { byId: { ...smallShot.elements.byId, shadow: light } },
    uses: { byId: { ...smallShot.uses.byId, more: { ...own, id: 'more', owner: { kind: 'element', id: 'shadow' } } } },
  }
  const { selection } = shotReducer(undefined, shotActions.opened({ id: 's', shot, revision: 4, catalog: {} }))
  expect(selection.primary).toEqual({ kind: 'element', id: 'cg' })
})

test('a draft is not in the document, a committed edit is, and waits to be saved', () => {
  expect(red(run(shotActions.drafted(veil(0.5))))).toBe(0)
  const edited = run(shotActions.drafted(veil(0.5)), shotActions.edited(veil(0.5)))
  expect(red(edited)).toBe(0.5)
  expect(edited.draft).toBeNull()
  expect(edited.unsaved.map(({ edit }) => edit)).toEqual([veil(0.5)])
})

test('an edit that changes nothing leaves no trace', () => {
  const same = run(shotActions.edited(veil(0)))
  expect([same.past, same.unsaved]).toEqual([[], []])
})

test('an edit that cannot be made stands aside with its sentence, and nothing throws', () => {
  const state = run(shotActions.edited({ kind: 'remove-element', element: 'plate' }))
  expect(state.shot).toBe(opened.shot)
  expect(state.impossible).toMatchObject([
    { sentence: expect.stringContaining('plate cannot be removed'), rival: false },
  ])
  expect(shotReducer(state, shotActions.impossibleSettled(state.impossible[0].id)).impossible).toEqual([])
})

test('undo and redo walk through the changes and are edits that name the one they take back', () => {
  const twice = run(shotActions.edited(veil(0.1)), shotActions.edited(veil(0.2)))
  const back = after(twice, shotActions.undone())
  expect(red(back)).toBe(0.1)
  expect(red(after(back, shotActions.undone()))).toBe(0)
  const again = after(back, shotActions.redone())
  expect(red(again)).toBe(0.2)
  expect(red(after(again, shotActions.undone(), shotActions.undone(), shotActions.redone()))).toBe(0.1)
  expect(back.unsaved[2].edit).toEqual({ kind: 'undo', edit: twice.past[1].edit })
  expect([back.past.at(-1)?.label, back.future[0].label]).toEqual(['Veil red of CG', 'Undo: Veil red of CG'])
})

test('a new edit after undo forgets what was undone', () => {
  const state = run(shotActions.edited(veil(0.1)), shotActions.undone(), shotActions.edited(veil(0.3)))
  expect(state.future).toEqual([])
  expect(shotReducer(state, shotActions.redone())).toBe(state)
})

test('an undo of what another tab has changed since is one sentence, and does not stand in the way of the one before', () => {
  const mine = run(shotActions.edited(veil(0.1, 1)), shotActions.edited(veil(0.1)))
  const [first, second] = mine.unsaved
  const saved = [first, second].reduce((state, { id, made }, i) => {
    const shot = i === 0 ? applyEdit(smallShot, veil(0.1, 1)).shot : (mine.shot as Shot)
    return after(state, shotActions.acknowledged({ id, shot, revision: 5 + i, made }))
  }, mine)
  const theirs = after(
    saved,
    shotActions.caughtUp({ shot: applyEdit(mine.shot as Shot, veil(0.45)).shot, revision: 7 }),
  )
  const refused = after(theirs, shotActions.undone())
  expect(refused.notice).toBe('Veil red of CG cannot be taken back: it has been changed again since.')
  expect(red(refused)).toBe(0.45)
  expect(colours(after(refused, shotActions.undone()))).toEqual([0.45, 0, 0])
})

test('an acknowledgement brings other tabs’ changes, and keeps ours that are still unsaved', () => {
  const theirs = applyEdit(smallShot, veil(0.3, 2)).shot
  const server = applyEdit(theirs, veil(0.1))
  const two = run(shotActions.edited(veil(0.1)), shotActions.edited(veil(0.2)))
  const { id } = two.unsaved[0]
  const { label, patches, inverse } = server
  const state = after(
    two,
    shotActions.acknowledged({ id, shot: server.shot, revision: 6, made: { label, patches, inverse } }),
  )
  expect(colours(state)).toEqual([0.2, 0, 0.3])
  expect(state.unsaved.map(({ edit }) => edit)).toEqual([veil(0.2)])
  expect(state.saving).toBe('saving')
  expect(colours(after(state, shotActions.undone(), shotActions.undone()))).toEqual([0, 0, 0.3])
})

test('what became impossible on the newer document stands aside, and what was made after it goes on', () => {
  const server = applyEdit(smallShot, { kind: 'remove-element', element: 'front' }).shot
  const hide: Change = { kind: 'show-element', element: 'front', visible: false }
  const three = run(shotActions.edited(veil(0.1)), shotActions.edited(hide), shotActions.edited(veil(0.4, 1)))
  const state = after(
    three,
    shotActions.acknowledged({
      id: three.unsaved[0].id,
      shot: applyEdit(server, veil(0.1)).shot,
      revision: 6,
      made: null,
    }),
  )
  expect(state.impossible.map(({ edit }) => edit)).toEqual([hide])
  expect(state.unsaved.map(({ edit }) => edit)).toEqual([veil(0.4, 1)])
  expect(colours(state)).toEqual([0.1, 0.4, 0])
})

test('news from another tab waits while an edit of ours is on its way, and never goes back in time', () => {
  const news = { shot: applyEdit(smallShot, veil(0.4)).shot, revision: 5 }
  expect(red(shotReducer(opened, shotActions.caughtUp(news)))).toBe(0.4)
  expect(red(shotReducer(opened, shotActions.caughtUp({ ...news, revision: 4 })))).toBe(0)
  expect(red(run(shotActions.edited(veil(0.2)), shotActions.caughtUp(news)))).toBe(0.2)
})

test('a refusal takes the server’s document, keeps the edit with its values, and blocks nothing', () => {
  const shot = applyEdit(smallShot, veil(0.4)).shot
  const two = run(shotActions.edited(veil(0.2)), shotActions.edited(veil(0.3, 1)))
  const [{ id }] = two.unsaved
  const state = after(two, shotActions.refused({ id, sentence: 'no', rival: true, shot, revision: 9 }))
  expect(colours(state)).toEqual([0.4, 0.3, 0])
  expect(state).toMatchObject({ revision: 9, impossible: [{ sentence: 'no', rival: true, edit: veil(0.2) }] })
  expect(state.unsaved.map(({ edit }) => edit)).toEqual([veil(0.3, 1)])
  expect(state.past.map(({ edit }) => edit)).toEqual([two.unsaved[1].id])
})

test('tries are kept and used by edits like any other, and can be undone', () => {
  const tried = run(
    shotActions.edited({ kind: 'keep-try', id: 'one', name: 'try 1' }),
    shotActions.edited(veil(0.3)),
    shotActions.edited({ kind: 'use-try', id: 'one', keepAs: { id: 'two', name: 'try 2' } }),
  )
  expect(red(tried)).toBe(0)
  expect(Object.keys(tried.shot?.tries.byId ?? {})).toEqual(['one', 'two'])
  const back = shotReducer(tried, shotActions.undone())
  expect(red(back)).toBe(0.3)
  expect(Object.keys(back.shot?.tries.byId ?? {})).toEqual(['one'])
})

test('a source’s card opens over the element’s, which comes back; several things can be selected', () => {
  const open = run(shotActions.sourceSelected('plate'))
  expect(open.selection.primary).toEqual({ kind: 'source', id: 'plate' })
  expect(after(open, shotActions.sourceSelected(null)).selection).toEqual(opened.selection)
  const both = run(shotActions.alsoSelected({ kind: 'element', id: 'front' }))
  expect(both.selection).toEqual({
    primary: { kind: 'element', id: 'front' },
    also: [{ kind: 'element', id: 'cg' }],
  })
  expect(after(both, shotActions.alsoSelected({ kind: 'element', id: 'front' })).selection).toEqual(opened.selection)
})
