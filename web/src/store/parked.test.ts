import { configureStore } from '@reduxjs/toolkit'
import { smallShot } from '../../../core/test/small-shot'
import { selectParked, selectShownShot, selectShownStep } from './selectors'
import { shotActions, shotReducer } from './shot-slice'
import type { RootState } from './state'
import { viewChanged, viewOpened, viewReducer } from './view'

function open() {
  const store = configureStore({ reducer: { shot: shotReducer, view: viewReducer } })
  store.dispatch(shotActions.opened({ id: 'small', shot: smallShot, revision: 1, catalog: {} }))
  store.dispatch(viewOpened(1001))
  const at = { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 } as const
  store.dispatch(shotActions.edited({ kind: 'set-parameter', at, frame: 1001, value: 0.03 }))
  const state = () => store.getState() as RootState
  return { store, state, key: () => selectShownStep(state())?.key }
}

test('what is parked is not seen, stays in the document, and is taken up again with the same picture', () => {
  const { store, state, key } = open()
  const plain = key()
  store.dispatch(viewChanged({ looking: { parked: ['match'] } }))
  expect(key()).not.toBe(plain)
  expect(selectParked(state())).toEqual(['match'])
  expect(selectShownShot(state())?.uses).toBe(smallShot.uses)
  store.dispatch(viewChanged({ looking: { parked: [] } }))
  expect(key()).toBe(plain)
})

test('what is off, or gone, is not said to be parked', () => {
  const { store, state } = open()
  store.dispatch(viewChanged({ looking: { parked: ['match', 'gone'] } }))
  store.dispatch(shotActions.edited({ kind: 'turn-treatment', use: 'match', on: false }))
  expect(selectParked(state())).toEqual([])
})

test('the scale drops only while something is dragged', () => {
  const { store, state } = open()
  const scale = () => selectShownStep(state())?.key
  const full = scale()
  store.dispatch(viewChanged({ framing: { dragging: 2 } }))
  expect(scale()).toBe(full)
  const at = { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 } as const
  store.dispatch(shotActions.drafted({ kind: 'set-parameter', at, frame: 1001, value: 0.03 }))
  expect(scale()).not.toBe(full)
  store.dispatch(shotActions.drafted(null))
  expect(scale()).toBe(full)
})
