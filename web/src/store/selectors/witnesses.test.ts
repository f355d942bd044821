import type { SideReading } from '../../../../core/match'
import type { Witness } from '../../../../core/shot'
import { randomOf } from '../../../../core/test/random'
import { smallShot } from '../../../../core/test/small-shot'
import type { KeptReading, ShotReadings } from '../../../../core/witnesses'
import { serverCache } from '../../api/server-cache'
import { createStore } from '../index'
import { keysKnown, readNow } from '../readings'
import { shotActions } from '../shot-slice'
import { viewOpened } from '../view'
import { selectDriftOverFrames, selectReadingsNow, selectVerdictRows, selectVerdicts } from './witnesses'

/** What witnesses say in the tab, from what the server read of all frames and what is read here of one. */

const region = { x: 3, y: 4, width: 8, height: 8 }
const witness: Witness = {
  ...{ id: 'dark', name: 'Dark', rank: 'a0', purpose: 'black', element: 'cg' },
  ...{ reference: region, adjusted: region },
}
const frames = { first: 1001, last: 1012 }
const shot = { ...smallShot, frames, witnesses: { byId: { dark: witness } } }
const noise = 0.0009
const { normal } = randomOf(17)
const side = (value: number, error: number): SideReading => ({
  ...{ light: [value, value, value], error: [error, error, error], coverage: 1, freedom: 60 },
})
const numbers = Array.from({ length: 12 }, (_, i) => frames.first + i)
const plates = numbers.map(() => side(0.03 + noise * normal(), noise))
const kept = (adjusted: (frame: number) => number): ShotReadings['frames'] =>
  Object.fromEntries(
    numbers.map((frame, i): [number, { readonly dark: KeptReading }] => [
      frame,
      { dark: { key: `key ${frame}`, reference: plates[i], adjusted: side(adjusted(frame), 0) } },
    ]),
  )

async function opened(adjusted: (frame: number) => number = () => 0.03) {
  const store = createStore()
  stores.push(store)
  store.dispatch(shotActions.opened({ id: 's', shot, revision: 1, catalog: {} }))
  store.dispatch(viewOpened(1004))
  store.dispatch(shotActions.thingSelected({ kind: 'witness', id: 'dark' }))
  const progress = { witnesses: { done: 12, total: 12 }, checks: { done: 0, total: 0 } }
  const data: ShotReadings = { progress, frames: kept(adjusted), facts: {} }
  await store.dispatch(serverCache.util.upsertQueryData('readings', 's', data))
  return store
}
const stores: ReturnType<typeof createStore>[] = []
// What nobody looks at is kept for a while, by a clock that would go on.
afterEach(() => stores.splice(0).forEach((store) => store.dispatch(serverCache.util.resetApiState())))

type Store = Awaited<ReturnType<typeof opened>>
const keysOf = (some: readonly number[]) =>
  keysKnown({ keys: Object.fromEntries(some.map((frame) => [frame, { dark: `key ${frame}` }])), factKeys: {} })
const verdictsOf = (store: Store) => {
  const [{ cells, drifts, worst, wanting }] = selectVerdictRows(store.getState())
  return { is: cells.map(({ is }) => is), drifts, worst, wanting }
}
const nowOf = (store: Store, reference: SideReading, adjusted = side(0.03, 0)) => {
  store.dispatch(readNow({ dark: { frame: 1004, reference, adjusted } }))
  return selectVerdicts(store.getState()).get('dark')
}

test('all frames together are judged, though grain hides it on each; a wrong on one frame is named', async () => {
  const store = await opened((frame) => (frame === 1007 ? 0.037 : 0.03))
  store.dispatch(keysOf(numbers))
  expect(verdictsOf(store)).toEqual({
    is: numbers.map((frame) => (frame === 1007 ? 'drifts' : 'agrees')),
    ...{ drifts: 1, worst: 1007, wanting: 0 },
  })
  const drifts = selectDriftOverFrames(store.getState())
  expect(drifts.map(({ frame }) => frame)).toEqual(numbers)
  expect(drifts.every(({ judged: { over } }) => over !== undefined && over > 4)).toBe(true)
})

test('what was read before the last change tells nothing of the others', async () => {
  const store = await opened()
  store.dispatch(keysOf([1004]))
  const { is, wanting } = verdictsOf(store)
  expect(wanting).toBe(11)
  // By itself it is too noisy.
  expect(is[3]).toBe('not judged')
  store.dispatch(keysOf(numbers))
  expect(verdictsOf(store).is[3]).toBe('agrees')
})

test('while the element is changed, what is read here is judged by the plate as all frames tell it', async () => {
  const store = await opened()
  // The element has changed: what was kept is of before, but the plate is the same.
  const found = nowOf(store, plates[3])
  expect([found?.verdict, selectReadingsNow(store.getState()).get('dark')?.reference?.over]).toEqual(['agrees', 12])
  expect(nowOf(store, plates[3], side(0.036, 0))?.verdict).toBe('drifts')
})

test('likewise where only what is left in its shadow reads otherwise, as when the veil is dragged', async () => {
  const store = await opened()
  const shadow = { ratio: [0.5, 0.5, 0.5], error: [0.01, 0.01, 0.01] } as const
  nowOf(store, { ...plates[3], shadow })
  expect(selectReadingsNow(store.getState()).get('dark')?.reference?.over).toBeUndefined()
})

test('where the plate reads otherwise than it did, its frame is judged alone', async () => {
  const store = await opened()
  const other = side(plates[3].light[0], noise)
  const found = nowOf(store, { ...other, light: [other.light[0], 1.01 * other.light[1], other.light[2]] })
  expect([found?.verdict, found?.over]).toEqual(['not judged', undefined])
  store.dispatch(viewOpened(1005))
  expect(selectVerdicts(store.getState()).get('dark')).toBeUndefined()
})
