import sharp from 'sharp'
import { usualOutput } from '../core/delivery'
import type { News } from './work/work-news'
import { addressOf, ask, DataFolder, newDatabase, ownPage, runServer, type RunningServer } from './test/running-server'

/** Thumbnails, and news that the server sends on its own. */

const data = new DataFolder()
let server: RunningServer
beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  await ask(server, '/api/shots')
})
afterAll(async () => {
  await server.stop()
  data.remove()
})

test('a thumbnail is a JPEG of the composite at a quarter of the size', async () => {
  const response = await fetch(await addressOf(server, `/api/shots/quay-010/thumbnail`))
  expect(response.headers.get('content-type')).toBe('image/jpeg')
  const image = sharp(Buffer.from(await response.arrayBuffer()))
  expect(await image.metadata()).toMatchObject({ width: 160, height: 90, format: 'jpeg' })
  const { channels } = await image.stats()
  expect(channels[0].mean).toBeGreaterThan(20)
  expect(channels[0].max - channels[0].min).toBeGreaterThan(100)
})

/** Reads server-sent events until one of the kind comes. */
async function nextEvent<T>(response: Response, kind: string, good: (data: T) => boolean): Promise<T> {
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader()
  if (!reader) throw new Error('There is no stream.')
  let text = ''
  for (;;) {
    const { value, done } = await reader.read()
    if (done) throw new Error(`The stream ended without ${kind}.`)
    text += value
    for (const block of text.split('\n\n').slice(0, -1)) {
      const [, name, json] = /^event: (\S+)\ndata: (.*)$/.exec(block) ?? []
      if (name === kind && good(JSON.parse(json) as T)) {
        await reader.cancel()
        return JSON.parse(json) as T
      }
    }
    text = text.slice(text.lastIndexOf('\n\n') + 2)
  }
}

test('an edit is told to everyone who has the shot open, with the tab that made it', async () => {
  const events = await fetch(await addressOf(server, `/api/shots/quay-010/events`))
  expect(events.headers.get('content-type')).toMatch(/^text\/event-stream/)
  const heard = nextEvent<{ revision: number; tab: string }>(events, 'revised', () => true)
  await ask(server, '/api/shots/quay-010/edits', {
    id: 'hide-front-1',
    baseRevision: 1,
    tab: 'a',
    edit: { kind: 'show-element', element: 'front', visible: false },
  })
  expect(await heard).toMatchObject({ revision: 2, tab: 'a' })
})

test('a delivery tells how it goes on until it is done', async () => {
  const events = await fetch(await addressOf(server, `/api/shots/quay-010/events`))
  const heard = nextEvent<News>(events, 'work', ({ work }) => work.kind === 'delivery' && work.state === 'done')
  const wanted = { first: 1001, last: 1002, scale: 4, outputs: [usualOutput] }
  await ask(server, '/api/shots/quay-010/deliveries', wanted)
  expect(await heard).toMatchObject({
    work: { done: 2, total: 2, failed: [], progress: 1 },
    delivery: { version: 1, folder: 'quay-010/v001' },
  })
})

test('news of an unknown shot is refused, and so is what is not there', async () => {
  expect((await ask(server, '/api/shots/nowhere/events')).status).toBe(404)
  expect(await ask(server, '/api/nothing')).toEqual({
    status: 404,
    body: { message: 'There is nothing at /api/nothing.' },
  })
})

test('a request that is not JSON gets a sentence', async () => {
  const response = await fetch(await addressOf(server, `/api/shots/quay-010/edits`), {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...ownPage },
    body: '{ "edit": ',
  })
  expect(response.status).toBe(400)
  expect(((await response.json()) as { message: string }).message).toMatch(/^The request is not JSON/)
})

test('any other path is the application, which the browser asks for again each time', async () => {
  const response = await fetch(await addressOf(server, `/shots/quay-010`))
  expect(response.headers.get('content-type')).toContain('text/html')
  expect(response.headers.get('cache-control')).toBe('no-cache')
  expect(await response.text()).toContain('<div id="root">')
})
