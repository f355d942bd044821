import { applyEdit, type Change, type TabEdit } from '../../../core/shot'
import { smallShot } from '../../../core/test/small-shot'
import { createStore } from './index'
import { shotActions } from './shot-slice'
import { readUndoFrom } from './undo-reading'

/** The undo of this tab, read from a stand-in server while the artist goes on working. */

const veil: Change = {
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 },
  frame: 1001,
  value: 0.1,
}
const { shot: veiled, label, patches, inverse } = applyEdit(smallShot, veil)
const before: TabEdit = { edit: 'before', undoes: null, label, patches, inverse }
const back: TabEdit = { edit: 'back', undoes: 'before', label, patches: inverse, inverse: patches }
const opened = () => {
  const store = createStore()
  store.dispatch(shotActions.opened({ id: 's', shot: veiled, revision: 5, catalog: {} }))
  return store
}
const known = ({ getState }: ReturnType<typeof opened>) => {
  const { past, future } = getState().shot
  return [past.map(({ edit }) => edit), future.map(({ edit }) => edit)]
}

beforeEach(() => {
  jest.useFakeTimers()
  // Nothing is saved: what waits to be saved is settled by the tests themselves.
  globalThis.fetch = jest.fn(() => new Promise<Response>(() => undefined))
})
afterEach(() => jest.useRealTimers())

test('what was done before a reload can be taken back', async () => {
  const store = opened()
  await readUndoFrom(
    () => Promise.resolve({ past: [before], future: [] }),
    store,
    () => false,
  )
  expect(known(store)).toEqual([['before'], []])
  store.dispatch(shotActions.undone())
  expect(store.getState().shot.shot?.treatments.byId.match.parameters.veil[0]).toBe(0)
  expect(store.getState().shot.unsaved.at(-1)?.edit).toEqual({ kind: 'undo', edit: 'before' })
})

test('an answer that was overtaken by an undo does not count: what was undone can be made again', async () => {
  const store = opened()
  store.dispatch(shotActions.undoRead({ past: [before], future: [] }))
  const answers = [
    { past: [before], future: [] },
    { past: [], future: [back] },
  ]
  const asked = jest.fn(() => {
    if (answers.length === 2) store.dispatch(shotActions.undone())
    return Promise.resolve(answers.shift() ?? { past: [], future: [] })
  })
  const reading = readUndoFrom(asked, store, () => false)
  await jest.advanceTimersByTimeAsync(1000)
  // The undo waits to be saved, so that nothing is asked.
  expect(asked).toHaveBeenCalledTimes(1)
  const [{ id, made }] = store.getState().shot.unsaved
  expect(known(store)).toEqual([[], [id]])
  store.dispatch(shotActions.acknowledged({ id, shot: smallShot, revision: 6, made }))
  await jest.advanceTimersByTimeAsync(1000)
  await reading
  expect(known(store)).toEqual([[], ['back']])
  store.dispatch(shotActions.redone())
  expect(store.getState().shot.shot?.treatments.byId.match.parameters.veil[0]).toBe(0.1)
})

test('nor does one that was overtaken by an edit, saved or not, or by an undo that was taken back', async () => {
  const store = opened()
  store.dispatch(shotActions.undoRead({ past: [before], future: [] }))
  const edit = { ...veil, value: 0.3 } as const
  let asks = 0
  const asked = () => {
    asks++
    if (asks === 1) {
      store.dispatch(shotActions.edited(edit))
      const [{ id, made }] = store.getState().shot.unsaved
      // Saved before the answer came, which does not know it.
      store.dispatch(shotActions.acknowledged({ id, shot: veiled, revision: 6, made }))
      return Promise.resolve({ past: [before], future: [] })
    }
    const past = [before, ...store.getState().shot.past.filter((one) => one.edit !== 'before')]
    return Promise.resolve({ past, future: [] })
  }
  const reading = readUndoFrom(asked, store, () => false)
  await jest.advanceTimersByTimeAsync(1000)
  await reading
  expect(asks).toBe(2)
  expect(known(store)[0]).toHaveLength(2)
})

test('a shot that was left is not asked for again', async () => {
  const store = opened()
  store.dispatch(shotActions.edited({ ...veil, value: 0.2 }))
  let left = false
  const asked = jest.fn(() => Promise.resolve({ past: [before], future: [] }))
  const reading = readUndoFrom(asked, store, () => left)
  left = true
  await jest.advanceTimersByTimeAsync(1000)
  await reading
  expect(asked).not.toHaveBeenCalled()
})
