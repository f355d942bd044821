import { smallShot } from '../../../core/test/small-shot'
import { applyEdit, takeBack, type Change, type Edit, type Made, type Shot } from '../../../core/shot'
import { createStore } from './index'
import { tabName } from './tab'
import { shotActions } from './shot-slice'

/** Saving against a stand-in server that answers as the real one does. */

interface Sent {
  id: string
  baseRevision: number
  tab: string
  edit: Edit
}

const sent: Sent[] = []
let document: Shot
let revision: number
let answer: (body: Sent) => Response | Promise<Response>

const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status })
const known = new Map<string, Made>()
const apply = ({ id, edit }: Sent) => {
  const before = known.get(id)
  if (before) return json({ shot: document, revision, made: before })
  const made = edit.kind === 'undo' ? takeBack(document, known.get(edit.edit) as Made) : applyEdit(document, edit)
  known.set(id, made)
  document = made.shot
  revision++
  return json({ shot: document, revision, made })
}

beforeEach(() => {
  sent.length = 0
  known.clear()
  document = smallShot
  revision = 1
  answer = apply
  jest.useFakeTimers({ doNotFake: ['setImmediate', 'queueMicrotask', 'nextTick'] })
  globalThis.fetch = jest.fn(async (_path: RequestInfo | URL, init?: RequestInit) => {
    if (!init) return json({ shot: document, revision })
    const body = JSON.parse(String(init.body)) as Sent
    sent.push(body)
    return answer(body)
  })
})
afterEach(() => jest.useRealTimers())

const veil = (value: number, channel = 0): Change => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel },
  frame: 1001,
  value,
})
const settle = async () => {
  for (let i = 0; i < 40; i++) await new Promise((done) => setImmediate(done))
}
function open() {
  const store = createStore()
  store.dispatch(shotActions.opened({ id: 's', shot: smallShot, revision: 1, catalog: {} }))
  return store
}
const red = (shot: Shot | null) => shot?.treatments.byId.match.parameters.veil[0]

test('edits go out one after the other, each on the revision before it', async () => {
  const store = open()
  for (const value of [0.1, 0.2, 0.3]) store.dispatch(shotActions.edited(veil(value)))
  expect(store.getState().shot.unsaved).toHaveLength(3)
  await settle()
  expect(sent.map((s) => [s.baseRevision, s.tab])).toEqual([
    [1, tabName()],
    [2, tabName()],
    [3, tabName()],
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
  expect(sent.map((s) => s.edit.kind)).toEqual(['set-parameter', 'undo', 'undo'])
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
  expect(document.treatments.byId.match.parameters.veil).toEqual([0.1, 0.2, 0])
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
  const theirs = applyEdit(smallShot, veil(0.5)).shot
  answer = () =>
    json({ message: 'another tab changed the same value meanwhile', current: { shot: theirs, revision: 7 } }, 409)
  store.dispatch(shotActions.edited(veil(0.1)))
  await settle()
  const { shot, impossible, unsaved, revision: now } = store.getState().shot
  expect([red(shot), impossible[0]?.edit, impossible[0]?.rival, unsaved, now]).toEqual([0.5, veil(0.1), true, [], 7])
})

test('an edit the server refuses is taken back, with the server’s sentence', async () => {
  const store = open()
  answer = () => json({ message: 'There is no element "cg" in this shot.' }, 422)
  store.dispatch(shotActions.edited(veil(0.1)))
  await settle()
  expect(red(store.getState().shot.shot)).toBe(0)
  expect(store.getState().shot.impossible[0].sentence).toBe('There is no element "cg" in this shot.')
})

test('an answer that is lost on the way applies nothing twice: the edit is known by its id', async () => {
  const store = open()
  answer = (body) => {
    apply(body)
    answer = apply
    throw new TypeError('the line was cut')
  }
  store.dispatch(shotActions.edited({ kind: 'keep-try', id: 'one', name: 'try 1' }))
  store.dispatch(shotActions.edited(veil(0.1)))
  await settle()
  jest.advanceTimersByTime(2000)
  await settle()
  expect(sent.map(({ id }) => id)).toEqual([sent[0].id, sent[0].id, sent[2].id])
  expect(store.getState().shot).toMatchObject({ saving: 'saved', revision: 3, impossible: [] })
  expect(store.getState().shot.shot).toEqual(document)
})

test('an edit that the server cannot make does not hold up those behind it', async () => {
  const store = open()
  answer = (body) => (body.edit.kind === 'show-element' ? json({ message: 'It is gone.' }, 422) : apply(body))
  store.dispatch(shotActions.edited({ kind: 'show-element', element: 'front', visible: false }))
  store.dispatch(shotActions.edited(veil(0.2)))
  await settle()
  expect(red(document)).toBe(0.2)
  expect(store.getState().shot).toMatchObject({
    saving: 'saved',
    unsaved: [],
    impossible: [{ sentence: 'It is gone.' }],
  })
})
