import { smallShot } from '../../../core/test/small-shot'
import { applyEdit, type Edit, type Shot } from '../../../core/shot'
import { createStore } from './index'
import { tabName } from './saving'
import { shotActions } from './shot-slice'

/** Saving against a stand-in server that answers as the real one does. */

interface Sent {
  baseRevision: number
  tab: string
  edit: Edit
}

const sent: Sent[] = []
let document: Shot
let revision: number
let answer: (body: Sent) => Response | Promise<Response>

const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status })
const apply = ({ edit }: Sent) => {
  document = applyEdit(document, edit).shot
  revision++
  return json({ shot: document, revision })
}

beforeEach(() => {
  sent.length = 0
  document = smallShot
  revision = 1
  answer = apply
  jest.useFakeTimers({ doNotFake: ['setImmediate', 'queueMicrotask', 'nextTick'] })
  globalThis.fetch = jest.fn(async (_path: RequestInfo | URL, init?: RequestInit) => {
    if (!init) return json({ shot: document, revision, catalog: {} })
    const body = JSON.parse(String(init.body)) as Sent
    sent.push(body)
    return answer(body)
  })
})
afterEach(() => jest.useRealTimers())

const veil = (value: number, channel = 0): Edit => ({
  kind: 'set-parameter',
  at: { element: 'cg', treatment: 'match', parameter: 'veil', channel },
  frame: 1001,
  value,
})
const settle = async () => {
  for (let i = 0; i < 40; i++) await new Promise((done) => setImmediate(done))
}
function open() {
  const store = createStore()
  store.dispatch(shotActions.opened({ shot: smallShot, revision: 1, catalog: {} }))
  return store
}
const red = (shot: Shot | null) => shot?.elements[2].treatments[0].parameters.veil[0]

test('edits go out one after the other, each on the revision before it', async () => {
  const store = open()
  for (const value of [0.1, 0.2, 0.3]) store.dispatch(shotActions.edited(veil(value)))
  expect(store.getState().shot.unsaved).toHaveLength(3)
  await settle()
  expect(sent.map((s) => [s.baseRevision, s.tab])).toEqual([
    [1, tabName],
    [2, tabName],
    [3, tabName],
  ])
  expect(store.getState().shot).toMatchObject({ saving: 'saved', revision: 4, unsaved: [] })
  expect(red(document)).toBe(0.3)
})

test('undo and redo are saved like edits', async () => {
  const store = open()
  store.dispatch(shotActions.edited(veil(0.1)))
  store.dispatch(shotActions.undone())
  store.dispatch(shotActions.redone())
  await settle()
  expect(sent.map((s) => s.edit.kind)).toEqual(['set-parameter', 'restore', 'restore'])
  expect(red(document)).toBe(0.1)
})

test('while the server is away the screen says so, and nothing is lost when it comes back', async () => {
  const store = open()
  answer = () => {
    throw new TypeError('fetch failed')
  }
  store.dispatch(shotActions.edited(veil(0.1)))
  store.dispatch(shotActions.edited(veil(0.2, 1)))
  await settle()
  expect(store.getState().shot).toMatchObject({ saving: 'unreachable', revision: 1 })
  expect(store.getState().shot.unsaved).toHaveLength(2)
  answer = apply
  jest.advanceTimersByTime(2000)
  await settle()
  expect(store.getState().shot).toMatchObject({ saving: 'saved', revision: 3, unsaved: [] })
  expect(document.elements[2].treatments[0].parameters.veil).toEqual([0.1, 0.2, 0])
})

test('a server that fails is asked again', async () => {
  const store = open()
  answer = () => json({ message: 'The server failed: out of sorts.' }, 500)
  store.dispatch(shotActions.edited(veil(0.1)))
  await settle()
  expect(store.getState().shot.saving).toBe('unreachable')
  answer = apply
  jest.advanceTimersByTime(2000)
  await settle()
  expect(red(document)).toBe(0.1)
})

test('a conflict brings the other tab’s document and offers the edit', async () => {
  const store = open()
  const theirs = applyEdit(smallShot, veil(0.9)).shot
  answer = () =>
    json({ message: 'another tab changed the same value meanwhile', current: { shot: theirs, revision: 7 } }, 409)
  store.dispatch(shotActions.edited(veil(0.1)))
  await settle()
  const { shot, conflict, unsaved, revision: now } = store.getState().shot
  expect([red(shot), conflict?.edit, unsaved, now]).toEqual([0.9, veil(0.1), [], 7])
})

test('an edit the server refuses is taken back, with the server’s sentence', async () => {
  const store = open()
  answer = () => json({ message: 'There is no element "cg" in this shot.' }, 422)
  store.dispatch(shotActions.edited(veil(0.1)))
  await settle()
  expect(red(store.getState().shot.shot)).toBe(0)
  expect(store.getState().shot.conflict?.message).toBe('There is no element "cg" in this shot.')
})
