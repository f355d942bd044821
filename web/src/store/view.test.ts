import { smallShot, treated, withSource } from '../../../core/test/small-shot'
import { applyEdit, newTreatment, type Change, type Shot } from '../../../core/shot'
import type { DeliveryStatus } from '../../../core/delivery'
import type { WorkStatus } from '../../../core/work'
import { deliveryChanged, serverCache, workChanged } from '../api/server-cache'
import { createStore } from './index'
import {
  framesAhead,
  framesPlayed,
  lookedAtFrame,
  selectDeliveries,
  selectLooked,
  selectOtherStep,
  selectPlan,
  selectProblems,
  selectReadyFrames,
  selectShownShot,
  selectShownStep,
  selectWork,
} from './selectors'
import { shotActions } from './shot-slice'
import { played, playToggled, viewChanged, viewOpened, type ViewState } from './view'

const draft: Change = {
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 },
  frame: 1001,
  value: 0.4,
}
function open(shot: Shot = smallShot) {
  const store = createStore()
  store.dispatch(shotActions.opened({ id: 's', shot, revision: 1, catalog: { plate: { 1001: 'a', 1002: 'b' } } }))
  store.dispatch(viewOpened(1001))
  return store
}

describe('playing', () => {
  test('counts what was shown and what was dropped; a dropped frame is not shown', () => {
    const store = open()
    store.dispatch(playToggled())
    store.dispatch(played({ frame: 1002, dropped: 0 }))
    store.dispatch(played({ frame: null, dropped: 2 }))
    expect(store.getState().view.playing).toMatchObject({
      playing: true,
      frame: 1002,
      played: { shown: 1, dropped: 2 },
    })
    store.dispatch(playToggled())
    expect(store.getState().view.playing).toMatchObject({ playing: false, played: { shown: 1, dropped: 2 } })
    store.dispatch(playToggled())
    expect(store.getState().view.playing.played).toEqual({ shown: 0, dropped: 0 })
  })

  test('what is made ahead: this frame and its neighbours, nearest first; while playing all that follow, round the end', () => {
    const store = open()
    expect(framesAhead(store.getState())).toEqual([1001, 1002, 1003, 1004, 1005])
    store.dispatch(viewChanged({ playing: { frame: 1009 } }))
    expect(framesAhead(store.getState())).toEqual([1009, 1010, 1008, 1007, 1006, 1005])
    store.dispatch(playToggled())
    expect(framesAhead(store.getState())).toEqual([1009, 1010, 1001, 1002, 1003, 1004, 1005, 1006, 1007, 1008])
  })

  test('a range and every so-manieth frame are played round and round', () => {
    const store = open()
    store.dispatch(viewChanged({ playing: { range: { first: 1003, last: 1007 }, every: 2, frame: 1004 } }))
    expect(framesPlayed(store.getState())).toEqual([1005, 1007, 1003])
  })

  test('the step of another frame is the one that would be shown there; frames that have not arrived have none', () => {
    const store = open()
    const ahead = lookedAtFrame(store.getState(), 1002)?.step
    expect(lookedAtFrame(store.getState(), 1002)?.step.key).toBe(ahead?.key)
    expect(lookedAtFrame(store.getState(), 1003)).toBeNull()
    store.dispatch(viewChanged({ playing: { frame: 1002 } }))
    expect(selectShownStep(store.getState())?.key).toBe(ahead?.key)
  })
})

describe('what is shown', () => {
  test('a gesture changes the picture’s key and leaves the document', () => {
    const store = open()
    const before = selectShownStep(store.getState())?.key
    store.dispatch(shotActions.drafted(draft))
    expect(selectShownStep(store.getState())?.key).not.toBe(before)
    expect(selectShownShot(store.getState())).not.toBe(store.getState().shot.shot)
    store.dispatch(shotActions.drafted(null))
    expect(selectShownStep(store.getState())?.key).toBe(before)
  })

  test('plate, element and composite are different steps of one plan', () => {
    const store = open()
    const key = (shown: ViewState['looking']['shown']) => {
      store.dispatch(viewChanged({ looking: { shown } }))
      return selectShownStep(store.getState())?.key
    }
    const plan = selectPlan(store.getState())
    expect([key('composite'), key('plate'), key('element')]).toEqual([
      plan?.composite?.key,
      plan?.plate?.key,
      plan?.elements.get('cg')?.key,
    ])
  })

  test('without its treatments, an element is seen as it came; other ways of comparing have their own picture', () => {
    const store = open()
    const composite = selectShownStep(store.getState())
    store.dispatch(viewChanged({ looking: { shown: 'untreated' } }))
    // Nothing is set yet, so treatments change nothing.
    expect(selectShownStep(store.getState())?.key).toBe(composite?.key)
    store.dispatch(shotActions.drafted(draft))
    const untreated = selectShownStep(store.getState())?.key
    store.dispatch(viewChanged({ looking: { shown: 'composite' } }))
    expect(untreated).toBe(composite?.key)
    expect(selectShownStep(store.getState())?.key).not.toBe(untreated)
    store.dispatch(viewChanged({ comparing: { other: { kind: 'frame', frame: 1002 } } }))
    expect(selectOtherStep(store.getState())?.key).toBe(lookedAtFrame(store.getState(), 1002)?.step.key)
  })

  test('a kept try stays as it was, whatever is edited after', () => {
    const store = open(applyEdit(smallShot, { kind: 'keep-try', id: 'one', name: 'try 1' }).shot)
    const before = selectShownStep(store.getState())?.key
    store.dispatch(shotActions.drafted(draft))
    store.dispatch(viewChanged({ comparing: { other: { kind: 'try', id: 'one' } } }))
    expect(selectOtherStep(store.getState())?.key).toBe(before)
    expect(selectShownStep(store.getState())?.key).not.toBe(before)
  })

  test('any one treatment can be left out', () => {
    const soft2 = newTreatment('soften', 'soft', { across: [2], down: [2] })
    const store = open(treated(smallShot, { kind: 'element', id: 'cg' }, soft2))
    const soft = selectShownStep(store.getState())?.key
    store.dispatch(shotActions.drafted(draft))
    const both = selectShownStep(store.getState())?.key
    store.dispatch(viewChanged({ comparing: { other: { kind: 'without', use: 'match' } } }))
    expect(selectOtherStep(store.getState())?.key).toBe(soft)
    store.dispatch(viewChanged({ comparing: { other: { kind: 'without', use: 'soft' } } }))
    expect([soft, both]).not.toContain(selectOtherStep(store.getState())?.key)
    expect(selectShownStep(store.getState())?.key).toBe(both)
  })

  test('a difference is a picture of its own; the way of looking is not in the picture', () => {
    const store = open()
    const before = selectShownStep(store.getState())
    store.dispatch(viewChanged({ looking: { exposure: 2, crank: 'dark', marks: true } }))
    expect(selectShownStep(store.getState())).toBe(before)
    expect(selectLooked(store.getState())?.view).toMatchObject({ exposure: 1, marks: true })
    store.dispatch(viewChanged({ looking: { crank: 'none' } }))
    expect(selectLooked(store.getState())?.view).toMatchObject({ exposure: 4 })
    store.dispatch(viewChanged({ comparing: { how: { way: 'difference', gain: 4 } } }))
    expect(selectShownStep(store.getState())?.key).not.toBe(before?.key)
  })

  test('moving the pointer or zooming makes no new plan', () => {
    const store = open()
    const plan = selectPlan(store.getState())
    store.dispatch(viewChanged({ framing: { pointer: { x: 3, y: 4 }, zoom: 2 }, looking: { exposure: 1 } }))
    expect(selectPlan(store.getState())).toBe(plan)
    const looked = selectLooked(store.getState())
    store.dispatch(viewChanged({ framing: { pointer: { x: 5, y: 4 }, zoom: 3 } }))
    expect(selectLooked(store.getState())).toBe(looked)
  })

  test('a file that arrived or changed makes a new key', () => {
    const store = open()
    const before = selectPlan(store.getState())?.plate?.key
    store.dispatch(shotActions.catalogRead({ plate: { 1001: 'changed', 1002: 'b', 1003: 'c' } }))
    expect(selectPlan(store.getState())?.plate?.key).not.toBe(before)
    expect([...selectReadyFrames(store.getState())]).toEqual([1001, 1002, 1003])
  })
})

test('news of a delivery replaces what was known of it; a new one comes first', async () => {
  const delivery = (id: string, bytes: number) => ({ id, bytes, shotId: 's' }) as DeliveryStatus
  const store = open()
  await store.dispatch(serverCache.util.upsertQueryData('deliveries', 's', [delivery('a', 1), delivery('b', 2)]))
  const known = () => selectDeliveries(store.getState()).map(({ id, bytes }) => [id, bytes])
  store.dispatch(deliveryChanged('s', delivery('b', 3)))
  expect(known()).toEqual([
    ['a', 1],
    ['b', 3],
  ])
  store.dispatch(deliveryChanged('s', delivery('c', 0)))
  expect(known()[0]).toEqual(['c', 0])
  store.dispatch(serverCache.util.resetApiState())
})

test('so does news of other work', async () => {
  const work = (id: string, done: number) => ({ id, done }) as WorkStatus
  const store = open()
  await store.dispatch(serverCache.util.upsertQueryData('work', 's', [work('a', 1), work('b', 2)]))
  store.dispatch(workChanged('s', work('b', 3)))
  store.dispatch(workChanged('s', work('c', 0)))
  expect(selectWork(store.getState()).map(({ id, done }) => [id, done])).toEqual([
    ['c', 0],
    ['a', 1],
    ['b', 3],
  ])
  store.dispatch(serverCache.util.resetApiState())
})

test('deliveries give way to the card of what is selected', () => {
  const store = open()
  const isOpen = () => store.getState().view.screen.instead !== null
  store.dispatch(viewChanged({ screen: { instead: 'deliveries' } }))
  expect(isOpen()).toBe(true)
  store.dispatch(shotActions.selected('bell'))
  expect(isOpen()).toBe(false)
})

test('which shot the gain is taken from is remembered while the card is closed, and forgotten with the shot', () => {
  const store = open()
  store.dispatch(viewChanged({ screen: { instead: 'matching', gainFrom: 'other' } }))
  store.dispatch(shotActions.selected('bell'))
  expect(store.getState().view.screen).toMatchObject({ instead: null, gainFrom: 'other' })
  store.dispatch(viewOpened(1001))
  expect(store.getState().view.screen.gainFrom).toBeNull()
})

test('a part of the way can be shown by itself, and a picture that cannot be planned is a problem, not an error', () => {
  const store = open()
  store.dispatch(viewChanged({ looking: { shown: 'node', node: { kind: 'source', id: 'matte', part: null } } }))
  const step = selectShownStep(store.getState())
  expect(step?.op === 'frame' && step.request.source).toBe('matte')
  store.dispatch(viewChanged({ looking: { shown: 'composite' } }))
  const moved = open(withSource(smallShot, 'plate', { offset: 500 }))
  expect(selectLooked(moved.getState())).toBeNull()
  expect(selectProblems(moved.getState())[0]).toMatchObject({ at: { kind: 'source', id: 'plate' }, missing: 'nothing' })
})
