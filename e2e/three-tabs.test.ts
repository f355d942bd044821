import { configureStore } from '@reduxjs/toolkit'
import fc from 'fast-check'
import { writeFileSync } from 'node:fs'
import { parseShot, type Change } from '../core/shot'
import { anyChange } from '../core/test/any-edit'
import { eachEdit } from '../core/test/each-edit'
import { smallShot } from '../core/test/small-shot'
import { DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { loadShot, loadUndo } from '../web/src/api/client'
import { saveUnsaved } from '../web/src/store/saving'
import { shotActions, shotReducer } from '../web/src/store/shot-slice'

/** Three tabs with the page's own reducer and saving code, at the real server, over a line that loses requests and answers. */

const data = new DataFolder()
const realFetch = globalThis.fetch
let server: RunningServer
/** what becomes of the next edits that are sent; after them the line is good */
let fates: ('request lost' | 'answer lost' | 'fine')[] = []
let lost = 0

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  globalThis.fetch = async (path, init) => {
    const fate = init?.method === 'POST' ? (fates.shift() ?? 'fine') : 'fine'
    if (fate !== 'fine') lost++
    if (fate === 'request lost') throw new TypeError('The line was cut.')
    const answer = await realFetch(server.url + String(path), init)
    if (fate === 'answer lost') throw new TypeError('The line was cut.')
    return answer
  }
})
afterAll(async () => {
  globalThis.fetch = realFetch
  await server.stop()
  data.remove()
})

let shots = 0
async function newShot(): Promise<string> {
  const name = `three-tabs-${++shots}`
  writeFileSync(data.file(`${name}.shot.json`), JSON.stringify({ ...smallShot, name }))
  const listed = (await (await realFetch(`${server.url}/api/shots`)).json()) as {
    shots: { id: string; name: string }[]
  }
  const found = listed.shots.find((shot) => shot.name === name)
  if (!found) throw new Error(`${name} was not taken in.`)
  return found.id
}

const newStore = () => configureStore({ reducer: { shot: shotReducer } })

class Tab {
  private store = newStore()
  private saving: Promise<unknown> = Promise.resolve()
  /** whether something could not be taken back, because another tab had built on it */
  couldNot = false

  constructor(
    private readonly shot: string,
    private readonly name: string,
  ) {}

  get state() {
    return this.store.getState().shot
  }

  /** What was not sent is lost, as it is when a tab is closed in spite of the question. */
  async reload(): Promise<void> {
    this.store.dispatch(shotActions.closed())
    await this.saving
    this.store = newStore()
    this.store.dispatch(shotActions.opened({ ...(await loadShot(this.shot)), catalog: {} }))
    this.store.dispatch(shotActions.undoRead(await loadUndo(this.shot, this.name)))
  }

  async catchUp(): Promise<void> {
    this.store.dispatch(shotActions.caughtUp(await loadShot(this.shot)))
  }

  edit(change: Change): void {
    this.store.dispatch(shotActions.edited(change))
    this.send()
  }

  undo(): void {
    this.store.dispatch(shotActions.undone())
    this.send()
    this.couldNot ||= this.state.notice !== null
  }

  redo(): void {
    this.store.dispatch(shotActions.redone())
    this.send()
    this.couldNot ||= this.state.notice !== null
  }

  private send(): void {
    this.saving = Promise.all([this.saving, saveUnsaved(this.store, this.name, 1)])
  }

  /** until everything is saved */
  async rest(): Promise<void> {
    while (this.state.unsaved.length > 0) {
      this.send()
      await this.saving
    }
    await this.saving
    this.couldNot ||= this.state.impossible.some(({ edit }) => edit.kind === 'undo')
  }
}

/** Takes back all that can be, in an order across the tabs. */
async function undoAll(tabs: readonly Tab[], order: readonly number[]): Promise<void> {
  for (let i = 0; tabs.some((tab) => tab.state.past.length > 0); i++) {
    const left = tabs.filter((tab) => tab.state.past.length > 0)
    const tab = left[order[i % order.length] % left.length]
    await tab.catchUp()
    tab.undo()
    await tab.rest()
    if (i > 500) throw new Error('Undoing does not end.')
  }
}

let fresh = 0
const step = fc.record({
  tab: fc.nat(2),
  does: fc.oneof(
    { weight: 6, arbitrary: anyChange(() => `fresh-${++fresh}`).map((change) => ({ kind: 'edit', change }) as const) },
    { weight: 2, arbitrary: fc.constant({ kind: 'undo' } as const) },
    { weight: 1, arbitrary: fc.constant({ kind: 'redo' } as const) },
    { weight: 1, arbitrary: fc.constant({ kind: 'catch up' } as const) },
    { weight: 1, arbitrary: fc.constant({ kind: 'reload' } as const) },
    { weight: 1, arbitrary: fc.constant({ kind: 'rest' } as const) },
  ),
})

test('random edits of three tabs give one valid document, the same at the server and in each tab, and can be undone', async () => {
  let revisions = 0
  let refused = 0
  let restored = 0
  await fc.assert(
    fc.asyncProperty(
      fc.array(step, { minLength: 10, maxLength: 30 }),
      fc.array(fc.constantFrom('request lost', 'answer lost', 'fine', 'fine'), { maxLength: 40 }),
      fc.array(fc.nat(20), { minLength: 3, maxLength: 9 }),
      async (steps, line, order) => {
        const id = await newShot()
        const tabs = ['a', 'b', 'c'].map((name) => new Tab(id, `tab-${name}`))
        for (const tab of tabs) await tab.reload()
        const beginning = tabs[0].state.shot
        fates = [...line]
        for (const { tab: which, does } of steps) {
          const tab = tabs[which]
          if (does.kind === 'edit') tab.edit(does.change)
          else if (does.kind === 'undo') tab.undo()
          else if (does.kind === 'redo') tab.redo()
          else if (does.kind === 'catch up') await tab.catchUp()
          else if (does.kind === 'rest') await tab.rest()
          else await tab.reload()
        }
        for (const tab of tabs) await tab.rest()
        await agree(id, tabs)
        refused += tabs.reduce((sum, tab) => sum + tab.state.impossible.length, 0)
        revisions += tabs[0].state.revision
        await undoAll(tabs, order)
        await agree(id, tabs)
        // Whatever was taken back left nothing behind, unless another tab had built on it.
        if (!tabs.some((tab) => tab.couldNot)) {
          restored++
          expect(tabs[0].state.shot).toEqual(beginning)
        }
      },
    ),
    { numRuns: 30 },
  )
  // The test means something: edits were made and refused, the line was cut, and whole histories were taken back.
  expect(revisions).toBeGreaterThan(100)
  expect(refused).toBeGreaterThan(0)
  expect(lost).toBeGreaterThan(10)
  expect(restored).toBeGreaterThan(0)
}, 240_000)

async function agree(id: string, tabs: readonly Tab[]): Promise<void> {
  const { shot, revision } = await loadShot(id)
  expect(parseShot(shot, 'the shot')).toEqual(shot)
  for (const tab of tabs) {
    await tab.catchUp()
    expect(tab.state).toMatchObject({ revision, unsaved: [] })
    expect(tab.state.shot).toEqual(shot)
  }
}

test('an edit whose answer is lost is made once', async () => {
  const id = await newShot()
  const tab = new Tab(id, 'once')
  await tab.reload()
  fates = ['answer lost', 'answer lost']
  tab.edit({ kind: 'show-element', element: 'cg', visible: false })
  tab.undo()
  await tab.rest()
  expect(tab.state.shot?.elements.byId.cg.visible).toBe(true)
  const { revision } = (await (await realFetch(`${server.url}/api/shots/${id}`)).json()) as {
    revision: number
  }
  expect(revision).toBe(3)
})

describe('two tabs, every kind of edit', () => {
  const other: Change = { kind: 'add-marker', marker: { id: 'of-b', name: 'Of the other tab', frame: 1002 } }

  async function opened(before: readonly Change[]): Promise<{ id: string; a: Tab; b: Tab }> {
    const id = await newShot()
    const [a, b] = ['a', 'b'].map((name) => new Tab(id, `two-${name}`))
    await a.reload()
    for (const change of before) a.edit(change)
    await a.rest()
    await b.reload()
    return { id, a, b }
  }

  test.each(Object.entries(eachEdit))('%s: beside another, undone after it, made again', async (_kind, example) => {
    fates = []
    const { id, a, b } = await opened(example.before ?? [])
    const first = a.state.shot
    // The second has not seen what the first has saved. (The other way round a return to an earlier state meets what it would remove.)
    a.edit(example.edit)
    await a.rest()
    b.edit(other)
    await b.rest()
    await agree(id, [a, b])
    const both = a.state.shot
    expect(both?.markers.byId['of-b']).toBeDefined()
    expect(JSON.stringify({ ...both, markers: { ...both?.markers.byId, 'of-b': 0 } })).not.toBe(
      JSON.stringify({ ...first, markers: { ...first?.markers.byId, 'of-b': 0 } }),
    )
    a.undo()
    await a.rest()
    await agree(id, [a, b])
    expect(a.couldNot).toBe(false)
    expect(b.state.shot).toEqual({
      ...first,
      markers: { byId: { ...first?.markers.byId, 'of-b': both?.markers.byId['of-b'] } },
    })
    a.redo()
    await a.rest()
    await agree(id, [a, b])
    expect(b.state.shot).toEqual(both)
  })

  test.each(Object.entries(eachEdit))('%s: made in both at once, it is made once', async (_kind, example) => {
    fates = []
    const { id, a, b } = await opened(example.before ?? [])
    a.edit(example.edit)
    b.edit(example.edit)
    await a.rest()
    const once = a.state.shot
    await b.rest()
    await agree(id, [a, b])
    expect(b.state.shot).toEqual(once)
    // What is so already is no edit; what cannot be made twice is told.
    expect(b.state.impossible.length).toBeLessThanOrEqual(1)
    for (const { sentence } of b.state.impossible) expect(sentence).toMatch(/^[A-Z].+\.$/)
  })
})
