import { execFileSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, join } from 'node:path'
import { Upload } from 'tus-js-client'
import type { MediaFolder, MovieStatus, PictureHeader, SourceReport } from '../core/check'
import type { Shot, Source } from '../core/shot'
import { readDpx } from '../formats/dpx'
import { safeName } from './media/safe-name'
import { firstFileAt } from './media/first-file'
import { ask, DataFolder, newDatabase, ownPage, runServer, until, type RunningServer } from './test/running-server'

const data = new DataFolder()
const media = join(data.path, 'media')
const footage = realpathSync(mkdtempSync(join(tmpdir(), 'enkrasis-footage-')))
let server: RunningServer

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path, '0', footage)
})
afterAll(async () => {
  await server.stop()
  data.remove()
  rmSync(footage, { recursive: true })
})

const query = (path: string, values: Record<string, string>) => `${path}?${new URLSearchParams(values)}`
const get = <T>(path: string, values: Record<string, string> = {}) =>
  ask<T & { message: string }>(server, query(path, values))

describe('looking into the media root', () => {
  test('folders come with their sequences and clips', async () => {
    expect((await get<MediaFolder>('/api/media')).body.folders).toContain('quay-010')
    const { body } = await get<MediaFolder>('/api/media', { folder: 'quay-010/plate' })
    expect(body.entries).toEqual([
      {
        pattern: 'quay-010_plate.####.exr',
        frames: { first: 1001, last: 1006 },
        count: 6,
        missing: [],
        kind: 'picture',
      },
    ])
  })

  test('a folder of 20,000 files is a few lines', async () => {
    mkdirSync(join(media, 'many'))
    for (let i = 0; i < 20_000; i++)
      writeFileSync(join(media, 'many', `s${i % 4}.${String(i >> 2).padStart(5, '0')}.exr`), '')
    const { body } = await get<MediaFolder>('/api/media', { folder: 'many' })
    expect(body.entries.map(({ pattern, count }) => [pattern, count])).toEqual(
      [0, 1, 2, 3].map((s) => [`s${s}.#####.exr`, 5000]),
    )
  })

  test('what a file says of itself, and a small picture of it', async () => {
    const path = 'quay-010/cg/quay-010_bell.####.exr'
    const { body } = await get<PictureHeader>('/api/media/header', { path, frame: '1001' })
    expect(body).toMatchObject({ format: 'exr', says: { encoding: 'linear', primaries: 'rec709', rate: 24 } })
    expect(body.parts.map(({ name }) => name)).toContain('occlusion')
    const picture = await fetch(server.url + query('/api/media/picture', { path, frame: '1001' }))
    expect(picture.headers.get('content-type')).toBe('image/jpeg')
    expect((await picture.arrayBuffer()).byteLength).toBeGreaterThan(500)
  })

  test('nothing outside is shown, links and dots included', async () => {
    symlinkSync('/etc', join(media, 'elsewhere'))
    for (const folder of ['..', 'quay-010/../..', '/etc', 'elsewhere']) {
      const { status, body } = await get<MediaFolder>('/api/media', { folder })
      expect([folder, status, body.message]).toEqual([folder, 403, expect.stringContaining('outside the media roots')])
    }
    expect((await get('/api/media/header', { path: 'elsewhere/hostname' })).status).toBe(403)
    expect((await get('/api/media', { folder: 'nothing' })).status).toBe(404)
  })
})

describe('importing', () => {
  test('a sequence of the media root is proposed with what its files say, and can be added by an edit', async () => {
    mkdirSync(join(media, 'other'))
    for (const n of [1, 2, 3])
      writeFileSync(join(media, `other/take.000${n}.exr`), readFileSync(data.file(`plate/quay-010_plate.100${n}.exr`)))
    const { body: source } = await get<Source>('/api/shots/quay-010/proposed-source', { path: 'other/take.####.exr' })
    expect(source).toEqual({
      firstFile: await firstFileAt(join(media, 'other/take.0001.exr')),
      id: expect.stringMatching(/^[0-9a-f]{20}$/),
      name: 'take',
      path: '../other/take.####.exr',
      frames: { first: 1, last: 3 },
      offset: 1000,
      claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' },
    })
    const edit = { id: randomUUID(), baseRevision: 1, tab: 'test', edit: { kind: 'add-source', source } }
    const { status, body } = await ask<{ shot: Shot }>(server, '/api/shots/quay-010/edits', edit)
    expect([status, body.shot.sources.byId[source.id]]).toEqual([200, source])
    const { body: reports } = await get<SourceReport[]>('/api/shots/quay-010/reports')
    expect(reports.find((report) => report.source === source.id)).toMatchObject({ frames: [1, 2, 3], unreadable: [] })
  })

  test('another root stands beside the store’s folders, and what lies in it can be a source', async () => {
    const name = basename(footage)
    cpSync(data.file('plate'), join(footage, 'day-1'), { recursive: true })
    expect((await get<MediaFolder>('/api/media')).body.folders).toEqual(expect.arrayContaining(['quay-010', name]))
    expect((await get<MediaFolder>('/api/media', { folder: name })).body.folders).toEqual(['day-1'])
    const path = `${name}/day-1/quay-010_plate.####.exr`
    expect((await get<PictureHeader>('/api/media/header', { path, frame: '1001' })).body.format).toBe('exr')
    const { body: source } = await get<Source>('/api/shots/quay-010/proposed-source', { path })
    expect(source).toMatchObject({ frames: { first: 1001, last: 1006 } })
    const edit = {
      id: randomUUID(),
      baseRevision: 2,
      tab: 'test',
      edit: { kind: 'add-source', source: { ...source, id: 'day-1' } },
    }
    expect((await ask(server, '/api/shots/quay-010/edits', edit)).status).toBe(200)
    const { body: reports } = await get<SourceReport[]>('/api/shots/quay-010/reports')
    expect(reports.find((report) => report.source === 'day-1')).toMatchObject({ unreadable: [], frames: { length: 6 } })
    expect((await get('/api/media', { folder: `${name}/..` })).status).toBe(403)
  })

  test('a camera file can be a source, and says what it holds; one without a camera is refused', async () => {
    const scene = (cameras: object[]) =>
      JSON.stringify({ asset: { version: '2.0' }, nodes: [{ camera: 0 }].slice(0, cameras.length), cameras })
    const camera = { type: 'perspective', name: 'A', perspective: { yfov: Math.PI / 4, znear: 0.1 } }
    writeFileSync(join(media, 'other/solve.gltf'), scene([camera]))
    writeFileSync(join(media, 'other/empty.gltf'), scene([]))
    const { body: listed } = await get<MediaFolder>('/api/media', { folder: 'other' })
    expect(listed.entries.filter(({ kind }) => kind === 'camera').map(({ pattern }) => pattern)).toEqual([
      'empty.gltf',
      'solve.gltf',
    ])
    const proposed = (path: string) => get<Source>('/api/shots/quay-010/proposed-source', { path })
    const refused = await proposed('other/empty.gltf')
    expect([refused.status, refused.body.message]).toEqual([422, expect.stringContaining('has no camera')])
    const { body: source } = await proposed('other/solve.gltf')
    const edit = { id: randomUUID(), baseRevision: 3, tab: 'test', edit: { kind: 'add-source', source } }
    expect((await ask(server, '/api/shots/quay-010/edits', edit)).status).toBe(200)
    const { body: reports } = await get<SourceReport[]>('/api/shots/quay-010/reports')
    expect(reports.find((report) => report.source === source.id)).toMatchObject({
      unreadable: [],
      cameras: [{ name: 'A', heightDegrees: expect.closeTo(45, 8) as number, moves: false }],
    })
  })

  test('a table that cannot be used is refused as it is imported', async () => {
    writeFileSync(join(media, 'other/short.cube'), 'LUT_1D_SIZE 3\n0 0 0\n')
    const { status, body } = await get('/api/shots/quay-010/proposed-source', { path: 'other/short.cube' })
    expect([status, body.message]).toEqual([422, expect.stringContaining('should have 3 rows')])
  })

  test('a source that climbs out of the media root is never read', async () => {
    const source = {
      id: 'thief',
      name: 'thief',
      path: '../../../etc/hostname',
      frames: null,
      claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' },
    }
    const { status } = await ask(server, '/api/shots/quay-010/edits', {
      id: randomUUID(),
      baseRevision: 4,
      tab: 'test',
      edit: { kind: 'add-source', source },
    })
    expect(status).toBe(200)
    const { body } = await get<SourceReport[]>('/api/shots/quay-010/reports')
    const report = body.find((one) => one.source === 'thief')
    expect(report).toMatchObject({ frames: [], header: null })
  })
})

describe('movies', () => {
  /** Twelve frames whose number can be read from their pixels. */
  function makeMovie(name: string): void {
    const frames = Buffer.concat(
      Array.from({ length: 12 }, (_, n) =>
        Buffer.from(Uint8Array.from({ length: 64 * 32 * 3 }, (_, i) => (i % 3 === 0 ? n * 20 : i % 251))),
      ),
    )
    writeFileSync(join(media, 'frames.raw'), frames)
    const input = [
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-s',
      '64x32',
      '-r',
      '24000/1001',
      '-i',
      join(media, 'frames.raw'),
    ]
    execFileSync('ffmpeg', ['-v', 'error', ...input, '-c:v', 'ffv1', '-y', join(media, name)])
  }

  test('are decoded once, frame by frame, exactly', async () => {
    makeMovie('clip.mkv')
    const first = await ask<MovieStatus>(server, '/api/media/movie', { path: 'clip.mkv' })
    expect(first.status).toBe(202)
    expect(first.body.says).toMatchObject({ width: 64, height: 32, rate: { numerator: 24000, denominator: 1001 } })
    const status = async () => (await get<MovieStatus>('/api/media/movie', { path: 'clip.mkv' })).body
    const done = await until(status, ({ state }) => state !== 'decoding')
    expect(done).toMatchObject({ state: 'done', done: 12, sentence: null })
    for (const n of [1, 7, 12]) {
      const name = done.pattern.replace(/#+/, (run) => String(n).padStart(run.length, '0'))
      const { planes } = readDpx(readFileSync(join(media, name)), name)
      expect(Math.round(planes[0].samples[100] * 255)).toBe((n - 1) * 20)
      expect(Math.round(planes[1].samples[100] * 255)).toBe(301 % 251)
    }
    const again = await ask<MovieStatus>(server, '/api/media/movie', { path: 'clip.mkv' })
    expect(again.body.startedAt).toBe(first.body.startedAt)
  })

  test('that are no movies, or cut, get a sentence', async () => {
    writeFileSync(join(media, 'text.mp4'), 'not a movie')
    const { status, body } = await ask<{ message: string }>(server, '/api/media/movie', { path: 'text.mp4' })
    expect([status, body.message]).toEqual([422, expect.stringMatching(/text\.mp4 cannot be read as a movie/)])
    makeMovie('cut.mkv')
    writeFileSync(join(media, 'cut.mkv'), readFileSync(join(media, 'cut.mkv')).subarray(0, 4000))
    await ask(server, '/api/media/movie', { path: 'cut.mkv' })
    const ended = await until(
      async () => (await get<MovieStatus>('/api/media/movie', { path: 'cut.mkv' })).body,
      ({ state }) => state !== 'decoding',
    )
    expect(ended.done).toBeLessThan(12)
  })
})

describe('uploads', () => {
  const send = (bytes: Buffer, name: string, options: Partial<ConstructorParameters<typeof Upload>[1]> = {}) =>
    new Promise<string>((done, fail) => {
      let path = ''
      const upload = new Upload(bytes, {
        headers: ownPage,
        endpoint: `${server.url}/api/uploads`,
        chunkSize: 100_000,
        metadata: { filename: name, batch: 'test' },
        retryDelays: null,
        onAfterResponse: (_request, response) => {
          path = response.getHeader('Enkrasis-Path') ?? path
        },
        onSuccess: () => done(decodeURIComponent(path)),
        onError: fail,
        ...options,
      })
      upload.start()
    })
  const plate = () => readFileSync(data.file('plate/quay-010_plate.1001.exr'))

  test('a file arrives whole in the media root, under its name', async () => {
    const path = await send(plate(), 'dragged.1001.exr')
    expect(path).toBe('imported/test/dragged.1001.exr')
    expect(readFileSync(join(media, path)).equals(plate())).toBe(true)
    expect(await send(plate(), 'dragged.1001.exr')).toBe('imported/test/dragged.1001-2.exr')
  })

  test('one that was cut half-way goes on where it stopped', async () => {
    const bytes = Buffer.concat([plate(), plate(), plate()])
    let url: string | null = null
    await new Promise<void>((cut) => {
      const upload: Upload = new Upload(bytes, {
        headers: ownPage,
        endpoint: `${server.url}/api/uploads`,
        chunkSize: 100_000,
        metadata: { filename: 'large.exr', batch: 'test' },
        onChunkComplete: (_size, accepted) => {
          if (accepted < bytes.length / 3) return
          url = upload.url
          void upload.abort().then(cut)
        },
      })
      upload.start()
    })
    if (url === null) throw new Error('The upload was not cut.')
    const offset = Number(
      (await fetch(url, { method: 'HEAD', headers: { 'Tus-Resumable': '1.0.0' } })).headers.get('upload-offset'),
    )
    expect(offset).toBeGreaterThan(0)
    expect(offset).toBeLessThan(bytes.length)
    let sent = 0
    const path = await send(bytes, 'large.exr', { uploadUrl: url, onChunkComplete: (size) => (sent += size) })
    expect(sent).toBe(bytes.length - offset)
    expect(readFileSync(join(media, path)).equals(bytes)).toBe(true)
  })

  test('what is no picture is refused with a sentence, and names lead nowhere', async () => {
    await expect(send(Buffer.from('x'), 'run.sh')).rejects.toThrow(/run\.sh is no picture, movie, table or camera/)
    expect(safeName('../../etc/pass wd.exr')).toBe('pass_wd.exr')
    expect(safeName('..\\..\\.hidden.exr')).toBe('hidden.exr')
    expect(safeName('')).toBe('unnamed')
  })
})
