import { execFile } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { promisify } from 'node:util'
import { matteBase, newId, parseShot, type CleanPlateRecipe, type Matte, type Recipe, type Source } from '../core/shot'
import { usualOutput, type DeliveryStatus } from '../core/delivery'
import { isOver, type MadeFilesState, type MakingState } from '../core/work'
import { bytesSource, readExr } from '../formats/exr'
import { MadeFiles } from './making/made-files'
import { MadeSources } from './making/made-sources'
import { unpacking } from './media/exr-blocks'
import {
  addressOf,
  ask,
  ownPage,
  DataFolder,
  newDatabase,
  runServer,
  until,
  type RunningServer,
} from './test/running-server'

/** Sources that a shot makes itself, by the command line and by the server: files like any others. */

const data = new DataFolder()
const file = 'quay-010.shot.json'
afterAll(() => data.remove())

const cleaned: CleanPlateRecipe = { kind: 'clean-plate', source: 'plate', part: null, from: 1001, to: 1006, step: 1 }
const figure = {
  ...matteBase({ mattes: { byId: {} } } as never, 'painted', 'Bollard'),
  id: 'figure',
  kind: 'painted',
  strokes: {
    byId: { one: { id: 'one', rank: 'a0', points: [100, 250, 130, 250], radius: 30, hardness: 1, how: 'add' } },
  },
} as Matte
const soft: Recipe = { kind: 'soft-matte', element: 'plate', matte: 'figure', inside: 6, outside: 6 }
const source = (id: string, name: string, path: string, made: Recipe): Source => ({
  ...{ id, name, path, made, frames: made.kind === 'clean-plate' ? null : { first: 1001, last: 1006 } },
  claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
})
const moving: Recipe = { kind: 'motion-blur', source: 'bell', part: null, angle: 180 }
const sources = [
  source('moving', 'Moving', 'made/moving/moving.####.exr', moving),
  source('joined', 'Joined', 'made/joined/joined.exr', cleaned),
  source('soft', 'Soft', 'made/soft/soft.####.exr', soft),
]

const exr = (path: string) =>
  readExr(bytesSource(new Uint8Array(readFileSync(path)), path), { ...unpacking, channels: ['R', 'G', 'B', 'A'] })

/** Deviation of neighbours' differences in a window: the noise, where all else is even. */
const noiseOf = (samples: ArrayLike<number>, width: number): number => {
  const differences: number[] = []
  for (let y = 20; y < 100; y++)
    for (let x = 20; x < 200; x += 2) {
      const i = y * width + x
      differences.push(Math.abs(samples[i] - samples[i + 1]))
    }
  return differences.sort((a, b) => a - b)[differences.length >> 1] / 0.6745 / Math.SQRT2
}

describe('the command line', () => {
  const enkrasis = (...args: string[]) =>
    promisify(execFile)('node', [
      'bin/enkrasis.mjs',
      'make',
      data.file('making.shot.json'),
      '--threads',
      '1',
      ...args,
    ]).then(
      ({ stdout }) => ({ status: 0, stdout, stderr: '' }),
      (error: { code: number; stdout: string; stderr: string }) => ({ ...error, status: error.code }),
    )
  beforeAll(() => {
    const document = parseShot(JSON.parse(readFileSync(data.file(file), 'utf8')), file)
    const byId = { ...document.sources.byId, ...Object.fromEntries(sources.map((one) => [one.id, one])) }
    const mattes = { byId: { figure } }
    writeFileSync(data.file('making.shot.json'), JSON.stringify({ ...document, sources: { byId }, mattes }))
  })

  test('makes a clean plate: a 32-bit still with less noise than a frame, in the shot’s primaries', async () => {
    expect(await enkrasis('--source', 'Joined')).toMatchObject({
      status: 0,
      stdout: 'made/joined/joined.exr: Joined from 6 frames.\n',
    })
    const made = await exr(data.file('made/joined/joined.exr'))
    expect(made.planes.map(({ type }) => type)).toEqual(['float', 'float', 'float', 'float'])
    expect(made.displayWindow).toEqual({ x: 0, y: 0, width: 640, height: 360 })
    const plate = await readExr(
      bytesSource(new Uint8Array(readFileSync(data.file('plate/quay-010_plate.1003.exr'))), 'plate'),
      {
        ...unpacking,
        channels: ['R', 'G', 'B'],
      },
    )
    const { halfTable } = await import('../core/image/half')
    const one = Float32Array.from(plate.planes[2].samples, (bits) => halfTable[bits])
    const [before, after] = [noiseOf(one, 640), noiseOf(made.planes[2].samples, 640)]
    expect(after).toBeLessThan(0.65 * before)
  }, 60_000)

  test('makes a soft matte of the frames that are asked for', async () => {
    const { status, stdout, stderr } = await enkrasis('--source', 'Soft', '--frames', '1002-1003')
    expect([status, stdout.split('\n').length, stderr]).toEqual([0, 3, ''])
    expect(existsSync(data.file('made/soft/soft.1003.exr'))).toBe(true)
    expect(existsSync(data.file('made/soft/soft.1001.exr'))).toBe(false)
    const { dataWindow, planes } = await exr(data.file('made/soft/soft.1002.exr'))
    // No larger than what is covered, and some of what is around it.
    expect(dataWindow.x).toBeGreaterThan(40)
    expect(dataWindow.width).toBeLessThan(160)
    expect(planes.map(({ type }) => type)).toEqual(['half', 'half', 'half', 'half'])
  }, 60_000)

  test('makes a render blurred by its own motion: no coverage is lost, and it lies in the frame', async () => {
    const { status, stdout, stderr } = await enkrasis('--source', 'Moving', '--frames', '1003-1003')
    expect([status, stdout, stderr]).toEqual([
      0,
      'made/moving/moving.1003.exr: Blurred by its own motion, 180 degrees.\n',
      '',
    ])
    const made = await exr(data.file('made/moving/moving.1003.exr'))
    expect(made.displayWindow).toEqual({ x: 0, y: 0, width: 640, height: 360 })
    const { halfTable } = await import('../core/image/half')
    const sum = ({ planes }: typeof made) => {
      const alpha = planes.find(({ name }) => name === 'A')?.samples ?? new Uint16Array()
      return (alpha as Uint16Array).reduce((all, bits) => all + halfTable[bits], 0)
    }
    const render = await exr(data.file('cg/quay-010_bell.1003.exr'))
    expect(sum(made) / sum(render)).toBeCloseTo(1, 1)
  }, 60_000)

  test('renders what needs it by making it first', async () => {
    const document = parseShot(JSON.parse(readFileSync(data.file('making.shot.json'), 'utf8')), file)
    const light = {
      ...matteBase(document, 'channel', 'Light'),
      ...{ id: 'light', kind: 'channel', source: 'joined', part: null, channel: 'G' },
    } as Matte
    const shot = { ...document, mattes: { byId: { ...document.mattes.byId, light } } }
    writeFileSync(data.file('needing.shot.json'), JSON.stringify(shot))
    rmSync(data.file('made/joined/joined.exr'))
    const { stdout } = await promisify(execFile)('node', [
      ...['bin/enkrasis.mjs', 'render', data.file('needing.shot.json')],
      ...['--frames', '1002', '--out', data.file('out'), '--of', 'Light 1', '--threads', '1'],
    ])
    expect(stdout).toMatch(/^made\/joined\/joined\.exr: Joined from 6 frames\.\n.*1002\.exr\n$/)
  }, 60_000)

  test('a source that it does not make is refused by name', async () => {
    const { status, stderr } = await enkrasis('--source', 'Plate')
    expect([status, stderr]).toEqual([
      1,
      expect.stringContaining('makes no source "Plate". It makes: Moving, Joined, Soft.') as string,
    ])
  })
})

describe('the server', () => {
  let server: RunningServer
  beforeAll(async () => {
    server = await runServer(await newDatabase(), data.path)
  }, 60_000)
  afterAll(() => server.stop())

  const address = '/api/shots/quay-010/made-sources'
  const make = (id: string) => ask<MakingState[] & { message?: string }>(server, address, { source: id })
  const edit = async (edits: readonly object[]) => {
    const { revision } = (await ask<{ revision: number }>(server, '/api/shots/quay-010')).body
    for (const [i, one] of edits.entries())
      await ask(server, '/api/shots/quay-010/edits', {
        ...{ id: randomUUID(), baseRevision: revision + i, tab: 'test', edit: one },
      })
  }
  const state = async (id: string) => (await ask<MakingState[]>(server, address)).body.find((one) => one.source === id)

  test('what is not in the shot yet is refused with a sentence', async () => {
    const { status, body } = await make('joined')
    expect([status, body.message]).toEqual([
      422,
      expect.stringContaining('nothing of that kind to be made yet') as string,
    ])
  })

  test('makes sources as long work, tells how it goes on, and makes them again', async () => {
    await edit([
      { kind: 'add-matte', matte: figure },
      ...sources.map((one) => ({ kind: 'add-source', source: { ...one, path: one.path.replace('made/', 'served/') } })),
    ])
    expect((await make('joined')).status).toBe(202)
    expect((await make('soft')).status).toBe(202)
    const [joined, hair] = await Promise.all(
      ['joined', 'soft'].map((id) =>
        until(
          () => state(id),
          (one) => one?.state === 'done' || one?.state === 'failed',
        ),
      ),
    )
    expect(joined).toMatchObject({ state: 'done', done: 1, total: 1, says: 'Joined from 6 frames.' })
    expect(hair).toMatchObject({ state: 'done', done: 6, total: 6 })
    // The same files as by the command line.
    const [one, other] = await Promise.all([
      exr(data.file('served/joined/joined.exr')),
      exr(data.file('made/joined/joined.exr')),
    ])
    expect(Buffer.from(one.planes[1].samples.buffer).equals(Buffer.from(other.planes[1].samples.buffer))).toBe(true)
    await make('joined')
    expect(
      await until(
        () => state('joined'),
        (now) => now?.state === 'done',
      ),
    ).toMatchObject({ done: 1 })
  }, 90_000)

  test('a delivery makes first what it needs and what is not there', async () => {
    const made = data.file('served/joined/joined.exr')
    const channel = { source: 'joined', part: null, channel: 'G' }
    const matte = {
      ...matteBase({ mattes: { byId: { figure } } } as never, 'channel', 'Light of it'),
      ...channel,
      id: 'light',
      kind: 'channel',
    }
    await edit([{ kind: 'add-matte', matte }])
    rmSync(made)
    const output = {
      ...usualOutput,
      name: 'light',
      of: { what: 'shot-matte', id: 'light' },
      pattern: '{shot}_{output}_{version}.{frame}',
    }
    const wanted = { first: 1002, last: 1003, scale: 1, outputs: [output] }
    const { body } = await ask<DeliveryStatus>(server, '/api/shots/quay-010/deliveries', wanted)
    const heldUp: string[] = []
    const delivery = await until(
      async () => {
        const all = (await ask<DeliveryStatus[]>(server, '/api/shots/quay-010/deliveries')).body
        const one = all.find(({ id }) => id === body.id)
        if (one?.work.heldUp) heldUp.push(one.work.heldUp)
        return one
      },
      (one) => one !== undefined && isOver(one.work),
    )
    expect(delivery?.work).toMatchObject({ state: 'done', done: 2 })
    expect(heldUp).toContain('Waits until Joined is made.')
    expect(existsSync(made)).toBe(true)
  }, 90_000)

  test('what cannot be made says why, and nothing else is touched', async () => {
    await edit([{ kind: 'set-source', source: 'soft', changes: { made: { ...soft, inside: 60 } } }])
    await make('soft')
    const failed = await until(
      () => state('soft'),
      (one) => one?.state === 'failed',
    )
    expect(failed?.says).toMatch(/^Frame 100\d: Nothing is surely inside\. Draw the outline larger/)
    expect(existsSync(data.file('served/soft/soft.1001.exr'))).toBe(true)
  }, 60_000)

  test('files of sources that are gone are told, and taken away when asked; those of the others stay', async () => {
    const files = '/api/shots/quay-010/made-files'
    const state = async () => (await ask<MadeFilesState>(server, files)).body
    const before = await state()
    const gone = `made/${newId()}`
    // Somebody's own folder, and one of a source with something else beside its pictures, are nobody's to take away.
    for (const folder of [gone, 'made/scans', `made/${newId()}`]) {
      mkdirSync(data.file(folder), { recursive: true })
      writeFileSync(data.file(`${folder}/gone.exr`), new Uint8Array(1000))
      if (folder !== gone) writeFileSync(data.file(`${folder}/notes.txt`), 'mine')
    }
    expect(await state()).toEqual({ ...before, bytes: before.bytes + 1000, unused: before.unused + 1000 })
    const removal = { method: 'DELETE', headers: ownPage }
    const after = (await (await fetch(await addressOf(server, files), removal)).json()) as MadeFilesState
    expect(after).toEqual({ ...before, bytes: before.bytes - before.unused, unused: 0 })
    expect([gone, 'made/scans/gone.exr', 'made/joined/joined.exr'].map((one) => existsSync(data.file(one)))).toEqual([
      false,
      true,
      true,
    ])
  })

  test('when they fill their room, making waits and says what to do', async () => {
    const folder = dirname(data.file('quay-010.shot.json'))
    const own = newId()
    mkdirSync(data.file(`made/${own}`), { recursive: true })
    writeFileSync(data.file(`made/${own}/own.exr`), new Uint8Array(1000))
    const full = new MadeFiles(() => Promise.resolve([{ byId: { [own]: {} } }]), 10)
    await expect(full.refuseFull(folder, 'quay-010')).rejects.toThrow(
      /^What was made for quay-010 takes .* GB, of 0\.000 GB that it may take \(ENKRASIS_MADE_GB\)\./,
    )
    await new MadeFiles(() => Promise.resolve([]), 1e12).refuseFull(folder, 'quay-010')
  })

  test('a delivery that needs what could not be made says so', async () => {
    rmSync(data.file('served/soft/soft.1002.exr'))
    const matte = {
      ...matteBase({ mattes: { byId: { figure } } } as never, 'channel', 'Hair'),
      source: 'soft',
      part: null,
      channel: 'A',
      id: 'hair',
      kind: 'channel',
    }
    await edit([{ kind: 'add-matte', matte }])
    const { body } = await ask<DeliveryStatus>(server, '/api/shots/quay-010/deliveries', {
      first: 1002,
      last: 1002,
      scale: 4,
      outputs: [usualOutput],
    })
    const delivery = await until(
      async () =>
        (await ask<DeliveryStatus[]>(server, '/api/shots/quay-010/deliveries')).body.find(({ id }) => id === body.id),
      (one) => one !== undefined && isOver(one.work),
    )
    expect(delivery?.work.failed[0].sentence).toMatch(
      /^Soft could not be made: Frame 100\d: Nothing is surely inside\. .*Make it on its card, then deliver again\.$/,
    )
  }, 60_000)
})

test('what was made between two looks is not made once more, nor is what somebody else has just begun', async () => {
  const done: string[] = []
  const workWith = (known: object | null) =>
    ({
      newestOfShot: () => Promise.resolve([]),
      newestOf: () => Promise.resolve(known),
      retry: () => Promise.resolve(done.push('made again')),
      wish: () => Promise.resolve(done.push('begun')),
    }) as never
  const row = { id: 'shot', revision: 1, folder: dirname(data.file(file)) } as never
  const place = { place: (folder: string) => ({ roots: [folder], folder }) } as never
  const shot = parseShot(JSON.parse(readFileSync(data.file('making.shot.json'), 'utf8')), file)
  const wanted = shot.sources.byId.joined
  const looks = [[wanted], []]
  await new MadeSources(workWith(null), place).refuseUnmade(row, shot, () => Promise.resolve(looks.shift() ?? []))
  expect([done, looks]).toEqual([[], []])
  const still = () => Promise.resolve([wanted])
  await expect(
    new MadeSources(workWith({ id: 'work', state: 'open' }), place).refuseUnmade(row, shot, still),
  ).rejects.toThrow('Waits until Joined is made.')
  expect(done).toEqual([])
  await expect(
    new MadeSources(workWith({ id: 'work', state: 'done' }), place).refuseUnmade(row, shot, still),
  ).rejects.toThrow(/^Waits/)
  expect(done).toEqual(['made again'])
})

test('a making that was called off after a delivery was wished for fails that, and is begun by a later one', async () => {
  const done: string[] = []
  const called = new Date('2026-11-20T12:00:00Z')
  const work = {
    newestOfShot: () => Promise.resolve([{ id: 'work', input: { source: 'joined' } }]),
    newestOf: () => Promise.resolve({ id: 'work', state: 'cancelled' }),
    resultsOf: () => Promise.resolve(new Map()),
    status: () =>
      Promise.resolve({
        ...{ state: 'cancelled', done: 0, total: 1, failed: [], heldUp: null },
        finishedAt: called.toISOString(),
      }),
    retry: () => Promise.resolve(done.push('begun')),
  } as never
  const row = { id: 'shot', revision: 1, folder: dirname(data.file(file)) } as never
  const place = { place: (folder: string) => ({ roots: [folder], folder }) } as never
  const shot = parseShot(JSON.parse(readFileSync(data.file('making.shot.json'), 'utf8')), file)
  const wanted = () => Promise.resolve([shot.sources.byId.joined])
  const refused = (since: Date) => new MadeSources(work, place).refuseUnmade(row, shot, wanted, { since })
  await expect(refused(new Date(+called - 1000))).rejects.toThrow(
    'Making Joined was called off. Make it on its card, then deliver again.',
  )
  expect(done).toEqual([])
  await expect(refused(new Date(+called + 1000))).rejects.toThrow(/^Waits until Joined is made/)
  expect(done).toEqual(['begun'])
})
