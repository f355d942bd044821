import fc from 'fast-check'
import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Client } from 'pg'
import { editKinds } from '../core/shot'
import { layUnderFreeName } from './media/free-name'
import { readMovieHeader } from './media/movie-header'
import { addressOf, ask, DataFolder, newDatabase, ownPage, runServer, type RunningServer } from './test/running-server'

/** Whoever knocks: other names, other pages, junk, and documents that claim too much. */

const data = new DataFolder()
let database: string
let server: RunningServer
beforeAll(async () => {
  database = await newDatabase()
  server = await runServer(database, data.path)
  await ask(server, '/api/shots')
})
afterAll(async () => {
  await server.stop()
  data.remove()
})

/** As any program could ask: `fetch` does not let the host be chosen. */
function knock(
  path: string,
  {
    method = 'GET',
    headers = {},
    body = '',
  }: { method?: string; headers?: Record<string, string>; body?: string } = {},
): Promise<{ status: number; text: string; headers: Record<string, unknown> }> {
  const { hostname, port } = new URL(server.url)
  return new Promise((resolve, reject) => {
    const asked = request({ hostname, port, path, method, headers }, (response) => {
      let text = ''
      response.on('data', (bytes: Buffer) => (text += bytes.toString()))
      response.on('end', () => resolve({ status: response.statusCode ?? 0, text, headers: response.headers }))
    })
    asked.on('error', reject)
    asked.end(body)
  })
}

describe('the door', () => {
  test('a request by another name is refused, whatever it asks for', async () => {
    for (const path of ['/', '/api/shots', '/assets/x.js']) {
      const { status, text } = await knock(path, { headers: { host: 'evil.example' } })
      expect([status, text]).toEqual([403, expect.stringContaining('This server is not called \\"evil.example\\"')])
    }
    expect((await knock('/api/shots', { headers: { host: 'localhost:1234' } })).status).toBe(200)
  })

  test('a page of another origin is refused', async () => {
    const { status } = await knock('/api/shots', { headers: { origin: 'http://evil.example' } })
    expect(status).toBe(403)
    const { host } = new URL(server.url)
    expect((await knock('/api/shots', { headers: { host, origin: `http://${host}` } })).status).toBe(200)
  })

  test('what changes something needs what a form or a link cannot send', async () => {
    const path = (await addressOf(server, '/api/shots/quay-010/deliveries')).slice(server.url.length)
    const form = { 'content-type': 'application/x-www-form-urlencoded' }
    const { status, text } = await knock(path, { method: 'POST', headers: form, body: 'first=1001&last=1001' })
    expect([status, text]).toEqual([403, expect.stringContaining('Only Enkrasis’s own page may change something')])
    expect((await knock('/api/media/movie?path=x', { method: 'DELETE' })).status).toBe(403)
    expect((await knock('/api/uploads', { method: 'POST' })).status).toBe(403)
  })

  test('no answer allows another origin, the uploads’ neither', async () => {
    const answers = [
      await knock('/api/shots'),
      await knock('/api/uploads', { method: 'OPTIONS' }),
      await knock('/api/uploads', {
        method: 'POST',
        headers: { ...ownPage, 'tus-resumable': '1.0.0', 'upload-length': '3', 'upload-metadata': 'filename YS5leHI=' },
      }),
    ]
    expect(answers.at(-1)?.status).toBe(201)
    for (const { headers } of answers)
      expect(Object.keys(headers).filter((name) => name.startsWith('access-control'))).toEqual([])
  })

  test('the page may run its own scripts and no others', async () => {
    const { headers, text } = await knock('/')
    const policy = String(headers['content-security-policy'])
    expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval';")
    expect(policy).not.toMatch(/script-src[^;]*'unsafe-(inline|eval)'/)
    expect(text).not.toMatch(/<script(?![^>]*\bsrc=)[^>]*>[^<]/)
    expect(policy).toContain("frame-ancestors 'none'")
  })
})

test('a name that is taken in between is not overwritten: of ten files at once each has its own', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-names-'))
  const waiting = join(folder, 'waiting')
  mkdirSync(waiting)
  const names = Array.from({ length: 10 }, (_, i) => String(i))
  names.forEach((name) => writeFileSync(join(waiting, name), name))
  const laid = await Promise.all(names.map((name) => layUnderFreeName(join(waiting, name), folder, 'plate.exr')))
  expect(new Set(laid).size).toBe(10)
  expect(laid.map((name) => readFileSync(join(folder, name), 'utf8'))).toEqual(names)
  expect(readdirSync(waiting)).toEqual([])
})

test('a playlist that calls itself a movie is not followed', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-movie-'))
  const clip = join(folder, 'clip.mp4')
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=32x32:rate=5', '-t', '1', clip])
  expect((await readMovieHeader(clip)).width).toBe(32)
  const list = join(folder, 'list.mp4')
  writeFileSync(list, `#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\n${clip}\n#EXT-X-ENDLIST\n`)
  await expect(readMovieHeader(list)).rejects.toThrow(/cannot be read as a movie/)
  const concat = join(folder, 'concat.mov')
  writeFileSync(concat, `ffconcat version 1.0\nfile '${clip}'\n`)
  await expect(readMovieHeader(concat)).rejects.toThrow(/cannot be read as a movie/)
})

describe('junk', () => {
  const odd = fc.oneof(
    fc.string(),
    fc.constantFrom(
      'NaN',
      '-1',
      '1e400',
      '%',
      '%E0%A4%A',
      '..',
      '__proto__',
      'constructor',
      'null',
      '2147483648',
      '\u0000',
    ),
    fc.uuid(),
  )
  const json = fc.oneof(
    fc.jsonValue(),
    fc.record(
      {
        id: odd,
        baseRevision: fc.oneof(fc.integer(), fc.double(), odd),
        tab: odd,
        edit: fc.oneof(
          fc.jsonValue(),
          fc.record(
            {
              kind: fc.oneof(fc.constantFrom(...Object.keys(editKinds), 'undo', 'restore'), odd),
              element: odd,
              source: odd,
              use: odd,
              edit: odd,
              at: fc.jsonValue(),
              frame: fc.oneof(fc.integer(), fc.constant(null)),
              value: fc.jsonValue(),
              changes: fc.oneof(
                fc.dictionary(fc.constantFrom('frames', '__proto__', 'name', 'offset', 'x'), fc.jsonValue()),
              ),
              claims: fc.dictionary(fc.constantFrom('encoding', '__proto__', 'alpha'), fc.jsonValue()),
            },
            { requiredKeys: ['kind'] },
          ),
        ),
        first: fc.jsonValue(),
        last: fc.jsonValue(),
        outputs: fc.jsonValue(),
        path: odd,
      },
      { requiredKeys: [] },
    ),
  )
  const routes: readonly (readonly [string, string])[] = [
    ['GET', '/api/shots'],
    ['POST', '/api/shots'],
    ['GET', '/api/new-shot'],
    ['POST', '/api/shot-files'],
    ['GET', '/api/shots/:shot/file'],
    ['POST', '/api/shots/:odd/copies'],
    ['POST', '/api/shots/:odd/put-away'],
    ['GET', '/api/shots/:shot'],
    ['GET', '/api/shots/:shot/catalog'],
    ['POST', '/api/shots/:shot/edits'],
    ['GET', '/api/shots/:shot/undo'],
    ['GET', '/api/shots/:shot/revisions'],
    ['GET', '/api/shots/:shot/revisions/:odd'],
    ['GET', '/api/shots/:shot/frame'],
    ['GET', '/api/shots/:shot/thumbnail'],
    ['GET', '/api/shots/:shot/deliveries'],
    ['POST', '/api/shots/:shot/deliveries'],
    ['GET', '/api/deliveries/:odd/files'],
    ['GET', '/api/deliveries/:odd/files/:odd'],
    ['GET', '/api/deliveries/:odd/archive'],
    ['POST', '/api/deliveries/:odd/remove'],
    ['GET', '/api/shots/:shot/computed'],
    ['POST', '/api/shots/:shot/computed'],
    ['DELETE', '/api/shots/:shot/computed/:odd'],
    ['GET', '/api/computed/:odd'],
    ['GET', '/api/shots/:shot/readings'],
    ['POST', '/api/shots/:shot/readings'],
    ['POST', '/api/shots/:shot/tracking'],
    ['GET', '/api/shots/:shot/camera?source=camera'],
    ['GET', '/api/shots/:shot/plane-camera?region=stones'],
    ['POST', '/api/shots/:shot/straight-lines'],
    ['POST', '/api/shots/:shot/lens'],
    ['POST', '/api/shots/:shot/lens-of-chart'],
    ['GET', '/api/shots/:shot/lens-map'],
    ['GET', '/api/shots/:shot/objects'],
    ['GET', '/api/shots/:shot/made-sources'],
    ['POST', '/api/shots/:shot/made-sources'],
    ['GET', '/api/shots/:shot/made-files'],
    ['DELETE', '/api/shots/:odd/made-files'],
    ['GET', '/api/shots/:shot/matching'],
    ['POST', '/api/shots/:odd/matching'],
    ['GET', '/api/shots/:shot/reports'],
    ['GET', '/api/shots/:odd/events'],
    ['GET', '/api/demo-shots'],
    ['POST', '/api/demo-shots/:odd'],
    ['GET', '/api/work'],
    ['GET', '/api/work/:odd'],
    ['POST', '/api/work/:odd/cancel'],
    ['POST', '/api/work/:odd/retry'],
    ['GET', '/api/media'],
    ['GET', '/api/media/header'],
    ['GET', '/api/media/picture'],
    ['GET', '/api/media/movie'],
    ['POST', '/api/media/movie'],
    ['DELETE', '/api/media/movie'],
    ['GET', '/api/shots/:shot/proposed-source'],
    ['GET', '/api/shots/:shot/versions'],
    ['GET', '/api/shots/:shot/replacement'],
    ['GET', '/api/shots/:shot/missing'],
    ['GET', '/api/shots/:shot/parts'],
    ['POST', '/api/shots/:shot/revisions/:odd'],
    ['GET', '/api/shots/:shot/wedge'],
    ['HEAD', '/api/uploads/:odd'],
    ['PATCH', '/api/uploads/:odd'],
    ['POST', '/api/uploads'],
    ['GET', '/api/:odd'],
  ]
  const names = [
    'source',
    'element',
    'frame',
    'part',
    'channels',
    'takes',
    'encoding',
    'width',
    'folder',
    'path',
    'paths',
    'tab',
    'x',
  ]
  const builtIn = ['valueOf', 'constructor', 'toString', '__proto__', 'hasOwnProperty']

  test.each(builtIn)('a request that uses the name "%s" is refused with a sentence', async (name) => {
    const sentence = expect.stringContaining(`uses the name "${name}"`) as string
    const said = ({ status, text }: { status: number; text: string }) => [
      status,
      (JSON.parse(text) as { message: string }).message,
    ]
    const body = `{"outputs":[{"deep":{"${name}":null}}]}`
    const headers = { 'content-type': 'application/json', ...ownPage }
    const posted = await knock('/api/shots/x/deliveries', { method: 'POST', headers, body })
    expect(said(posted)).toEqual([400, sentence])
    expect(said(await knock(`/api/media?${name}=1`))).toEqual([400, sentence])
  })

  test('3,000 calls of every route with junk are answered with a sentence, and never with 500', async () => {
    const known = (await addressOf(server, '/api/shots/quay-010')).split('/').at(-1) as string
    const calls = fc.record({
      route: fc.constantFrom(...routes),
      shot: fc.oneof(fc.constant(known), odd),
      odd,
      encoded: fc.boolean(),
      query: fc.dictionary(fc.constantFrom(...names, ...builtIn), odd),
      body: json,
    })
    const inPath = (text: string, encoded: boolean) =>
      (encoded ? encodeURIComponent(text) : text.replace(/[^\w%.~-]/g, '')) || 'x'
    await fc.assert(
      fc.asyncProperty(calls, async ({ route, shot, odd: some, encoded, query, body }) => {
        const [method, path] = route
        const asked = path.replace(':shot', inPath(shot, encoded)).replaceAll(':odd', inPath(some, encoded))
        const { status, text } = await knock(`${asked}?${new URLSearchParams(query)}`, {
          method,
          headers: { 'content-type': 'application/json', ...ownPage },
          body: ['GET', 'HEAD', 'DELETE'].includes(method) ? '' : JSON.stringify(body),
        })
        if (status >= 500) throw new Error(`${method} ${asked} answered ${status}: ${text}`)
        if (status >= 400 && !asked.startsWith('/api/uploads') && method !== 'HEAD')
          expect(JSON.parse(text)).toMatchObject({ message: expect.stringMatching(/\S/) })
      }),
      { numRuns: 3000 },
    )
    expect((await knock('/api/shots')).status).toBe(200)
  }, 240_000)

  test('an address that cannot be decoded, a revision that is no number, a body that is too large', async () => {
    expect((await knock('/api/shots/%E0%A4%A')).status).toBe(400)
    const { status } = await ask(server, '/api/shots/quay-010/revisions/NaN')
    expect(status).toBe(404)
    const path = (await addressOf(server, '/api/shots/quay-010/edits')).slice(server.url.length)
    const large = JSON.stringify({ edit: 'x'.repeat(5_000_000) })
    const headers = { 'content-type': 'application/json', ...ownPage }
    expect((await knock(path, { method: 'POST', headers, body: large })).status).toBe(413)
  })
})

describe('documents that claim too much', () => {
  const query = async (text: string, values: unknown[] = []) => {
    const client = new Client({ connectionString: database })
    await client.connect()
    try {
      return await client.query(text, values)
    } finally {
      await client.end()
    }
  }

  test('a range of a billion frames, a damaged document: the others open, and the reason stands in the list', async () => {
    const { rows } = await query('SELECT document, folder FROM shots')
    const { document, folder } = rows[0] as { document: { sources: { byId: Record<string, object> } }; folder: string }
    const huge = structuredClone(document)
    Object.assign(huge.sources.byId.plate, { frames: { first: 1, last: 1_000_000_000 } })
    const insert = 'INSERT INTO shots (name, folder, revision, document, "updatedAt") VALUES ($1, $2, 1, $3, now())'
    await query(insert, ['huge', folder, JSON.stringify({ ...huge, name: 'huge' })])
    await query(insert, ['damaged', folder, JSON.stringify({ schema: 2, elements: [] })])
    await server.stop()
    server = await runServer(database, data.path)
    const { body } = await ask<{ shots: { name: string; fault: string | null; framesReady?: number }[] }>(
      server,
      '/api/shots',
    )
    const named = (name: string) => body.shots.find((shot) => shot.name === name)
    expect(named('quay-010')).toMatchObject({ fault: null, framesReady: 6 })
    expect(named('huge')).toMatchObject({ fault: null, framesReady: 6 })
    expect(named('damaged')?.fault).toMatch(/damaged is not a usable shot document/)
    expect((await ask(server, '/api/shots/huge')).status).toBe(200)
    expect((await ask(server, '/api/shots/damaged')).status).toBe(422)
  })
})

test('a shot file is taken in once, also by two servers that find it at the same moment', async () => {
  const fresh = await newDatabase()
  const servers = await Promise.all([runServer(fresh, data.path), runServer(fresh, data.path)])
  const lists = await Promise.all(
    servers.map(
      async (one) => (await ask<{ shots: { name: string }[]; complaints: string[] }>(one, '/api/shots')).body,
    ),
  )
  await Promise.all(servers.map((one) => one.stop()))
  for (const { shots, complaints } of lists)
    expect([shots.map(({ name }) => name), complaints]).toEqual([['quay-010'], []])
  expect(existsSync(data.file('quay-010.shot.json'))).toBe(true)
})
