import { copyFileSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { checkShot, waysOfReading, voicesOf, type SourceReport } from '../core/check'
import { encoder } from '../core/colour'
import { floatToHalf, halfTable } from '../core/image/half'
import type { Plane } from '../core/image/planes'
import type { Shot, Source } from '../core/shot'
import { tableOf, applyEdit } from '../core/shot'
import { writeDpx } from '../formats/dpx'
import { bytesSource, readExr, writeExr } from '../formats/exr'
import { valuesOf } from '../core/measure/sample'
import { measureSource } from './check/measure-source'
import { packing, unpacking } from './media/exr-blocks'
import { framesInFolder } from './media/frames-in-folder'
import { readShotFile } from './shots/shot-store'
import { DataFolder } from './test/running-server'

/** The small demo shot, spoilt in one way at a time: the check must find that, and say nothing else about it. */

const data = new DataFolder()
const place = { roots: [data.shot], folder: data.shot }
let shot: Shot
beforeAll(async () => {
  shot = await readShotFile(data.file('quay-010.shot.json'))
})
afterAll(() => data.remove())

const source = (id: string) => shot.sources.byId[id]

async function reportOf(given: Source): Promise<SourceReport> {
  const frames = given.frames ? await framesInFolder(place, given.path) : [null]
  return measureSource({ place, source: given, uses: waysOfReading(shot).get(given.id) ?? [], frames })
}

/** Findings of a source with changes, as `kind severity`. */
async function kindsFor(id: string, changes: Partial<Source> = {}): Promise<string[]> {
  const spoilt = { ...source(id), ...changes }
  const changed = { ...shot, sources: { byId: { ...shot.sources.byId, [id]: spoilt } } }
  return checkShot(changed, [await reportOf(spoilt)]).map(({ kind, severity }) => `${kind} ${severity}`)
}

const plateFile = (n: number) => data.file(`plate/quay-010_plate.${n}.exr`)
const readPlate = (n: number) => readExr(bytesSource(readFileSync(plateFile(n)), 'plate'), { ...unpacking })

/** Writes the plate's frames anew in a folder of their own. */
async function plates(
  folder: string,
  change: (planes: readonly Plane[], frame: number) => readonly Plane[],
  numbers = [1001, 1002, 1003, 1004, 1005, 1006],
): Promise<Partial<Source>> {
  const { mkdirSync } = await import('node:fs')
  mkdirSync(data.file(folder))
  for (const n of numbers) {
    const { dataWindow, displayWindow, planes } = await readPlate(n)
    const part = { dataWindow, displayWindow, planes: change(planes, n) }
    writeFileSync(data.file(`${folder}/p.${n}.exr`), await writeExr([part], { compression: 'zip', ...packing }))
  }
  return { path: `${folder}/p.####.exr` }
}
interface Spoil {
  readonly turned?: boolean
  readonly hole?: boolean
  readonly cut?: boolean
  readonly half?: boolean
}

/** The demo's lens map with something wrong. */
async function spoiltMap({ turned, hole, cut, half }: Spoil): Promise<Uint8Array> {
  const path = source('lens').path
  const map = await readExr(bytesSource(readFileSync(data.file(path)), path), { channels: ['R', 'G'], ...unpacking })
  const { width, height } = shot.frameSize
  const inside = half ? { x: 0, y: 0, width: width / 2, height: height / 2 } : map.displayWindow
  const dataWindow = cut ? { ...inside, x: 40, width: inside.width - 40 } : inside
  const planes = map.planes.map((plane, axis): Plane => {
    const value = valuesOf(plane)
    const samples = Float32Array.from({ length: dataWindow.width * dataWindow.height }, (_, i) => {
      const [x, y] = [dataWindow.x + (i % dataWindow.width), dataWindow.y + Math.floor(i / dataWindow.width)]
      if (hole && x > 300 && x < 310 && y > 100 && y < 105) return NaN
      const scale = half ? 2 : 1
      const v = value((y * scale - map.dataWindow.y) * map.dataWindow.width + x * scale - map.dataWindow.x)
      return turned && axis === 1 ? 1 - v : v
    })
    return { name: 'RG'[axis], type: 'float', samples }
  })
  return writeExr([{ dataWindow, displayWindow: inside, planes }], { compression: 'zip', ...packing })
}

const mapped = (planes: readonly Plane[], value: (v: number, i: number, c: number) => number): Plane[] =>
  planes.map((plane, c) => ({
    ...plane,
    samples: Uint16Array.from(plane.samples, (bits, i) => floatToHalf(value(halfTable[bits], i, c))),
  }))

test('the plate, the clean plate and the mattes of the demo are what they claim to be', async () => {
  for (const id of ['plate', 'clean', 'front', 'lens']) expect([id, await kindsFor(id)]).toEqual([id, []])
})

test('the three voices agree about the plate, and say so', async () => {
  const voices = voicesOf(shot, source('plate'), await reportOf(source('plate')))
  expect(voices.every(({ agree }) => agree)).toBe(true)
  expect(voices.find(({ claim }) => claim === 'encoding')).toMatchObject({
    file: 'scene-linear',
    pixels: 'fit scene-linear',
    you: 'scene-linear',
  })
  expect(voices.find(({ claim }) => claim === 'range')).toMatchObject({ file: '1001 to 1006', pixels: 'none missing' })
})

describe('encodings', () => {
  test('a log plate that is read as linear looks log, and one click reads it as such', async () => {
    const log = await plates('log', (planes) => mapped(planes, encoder('logc3')))
    expect(await kindsFor('plate', log)).toEqual(['looks-log wrong'])
    const spoilt = { ...source('plate'), ...log }
    const changed = { ...shot, sources: tableOf([spoilt]) }
    const report = await reportOf(spoilt)
    const [{ fix }] = checkShot(changed, [report])
    if (!fix) throw new Error('There is no fix.')
    const mended = applyEdit(changed, fix.edit).shot
    expect(['logc3', 'pq', 'acescc', 'slog3', 'clog2', 'vlog', 'logc4']).toContain(
      mended.sources.byId.plate.claims.encoding,
    )
    // The file still says linear, as EXR does: that is for an eye to judge.
    expect(checkShot(mended, [report]).map(({ severity }) => severity)).toEqual(['look'])
  })

  test('a plate for a display that is read as linear looks display-encoded', async () => {
    const display = await plates('display', (planes) => mapped(planes, (v) => Math.min(1, encoder('srgb')(v * 4))))
    expect((await kindsFor('plate', display))[0]).toMatch(/^looks-(display-encoded|log) wrong$/)
  })

  test('a linear plate that is read as log is found too', async () => {
    const claims = { ...source('plate').claims, encoding: 'logc3' as const }
    expect(await kindsFor('plate', { claims })).toEqual(['looks-scene-linear wrong'])
  })

  test('a file’s word against yours is shown', async () => {
    const planes = [0, 1, 2].map(() =>
      Float32Array.from({ length: 640 * 360 }, (_, i) => 0.2 + 0.3 * ((i % 640) / 640)),
    )
    writeFileSync(data.file('said.dpx'), writeDpx(shot.frameSize, planes, { bits: 10, transfer: 'density' }))
    const claims = { ...source('clean').claims, encoding: 'acescct' as const }
    expect(await kindsFor('clean', { path: 'said.dpx', claims })).toContain('encoding-said look')
  })
})

describe('alpha', () => {
  const straightBell = async (straight: boolean): Promise<Partial<Source>> => {
    const size = 200
    const window = { x: 0, y: 0, ...shot.frameSize }
    const planes = ['R', 'G', 'B', 'A'].map((name, c): Plane => {
      const samples = Uint16Array.from({ length: window.width * window.height }, (_, i) => {
        const far = Math.hypot((i % window.width) - 320, Math.floor(i / window.width) - 180)
        const alpha = Math.min(1, Math.max(0, (size / 2 - far) / 4))
        return floatToHalf(c === 3 ? alpha : alpha > 0 ? 0.3 * (straight ? 1 : alpha) : 0)
      })
      return { name, type: 'half', samples }
    })
    const name = `disc-${straight}.exr`
    writeFileSync(
      data.file(name),
      await writeExr([{ dataWindow: window, displayWindow: window, planes }], { compression: 'zip', ...packing }),
    )
    return { path: name, frames: null }
  }

  test('the demo’s own bell is told to be premultiplied, though it is also read by passes without alpha', async () => {
    const bell = { ...source('bell'), claims: { ...source('bell').claims, alpha: 'straight' as const } }
    const uses = [
      { part: 'ground_reflection', takes: 'rgba' as const },
      { part: 'beauty', takes: 'rgba' as const },
    ]
    const report = await measureSource({ place, source: bell, uses, frames: [1001, 1002] })
    const found = checkShot({ ...shot, sources: tableOf([bell]) }, [report]).map(({ kind }) => kind)
    expect(found).toContain('looks-premultiplied')
  })

  test('straight alpha that is read as premultiplied is found at the edges, and the other way round', async () => {
    const uses = [{ part: null, takes: 'rgba' as const }]
    for (const straight of [true, false]) {
      const claims = { ...source('bell').claims, alpha: straight ? ('premultiplied' as const) : ('straight' as const) }
      const spoilt = { ...source('bell'), ...(await straightBell(straight)), claims }
      const report = await measureSource({ place, source: spoilt, uses, frames: [null] })
      const found = checkShot({ ...shot, sources: tableOf([spoilt]) }, [report]).map(({ kind }) => kind)
      expect(found).toContain(straight ? 'looks-straight' : 'looks-premultiplied')
    }
  })
})

describe('values, frames and sizes', () => {
  test('NaN, infinities and negatives are placed', async () => {
    const bad = await plates('bad', (planes) =>
      mapped(planes, (v, i, c) => (i === 640 * 10 + 7 && c === 1 ? NaN : i % 50 === 3 ? -0.2 : v)),
    )
    const found = checkShot(shot, [await reportOf({ ...source('plate'), ...bad })])
    expect(found.find(({ kind }) => kind === 'not-numbers')).toMatchObject({
      severity: 'wrong',
      where: expect.stringContaining('first at 7 10, channel G'),
    })
    expect(found.map(({ kind }) => kind)).toContain('negative')
  })

  test('a frame twice, a black one and a jump of level', async () => {
    const repeated = await plates('repeated', (planes) => planes)
    copyFileSync(data.file('repeated/p.1003.exr'), data.file('repeated/p.1004.exr'))
    expect(await kindsFor('plate', repeated)).toEqual(['repeated-frames look'])
    const black = await plates('black', (planes, n) => (n === 1003 ? mapped(planes, () => 0) : planes))
    expect(await kindsFor('plate', black)).toEqual(['black-frames wrong'])
    const jump = await plates('jump', (planes, n) => (n > 1003 ? mapped(planes, (v) => v * 1.3) : planes))
    expect(await kindsFor('plate', jump)).toEqual(['level-jump look'])
  })

  test('missing, truncated and empty frames; the fix lets the shot go on', async () => {
    const holes = await plates('holes', (planes) => planes)
    rmSync(data.file('holes/p.1002.exr'))
    writeFileSync(data.file('holes/p.1004.exr'), readFileSync(data.file('holes/p.1005.exr')).subarray(0, 5000))
    writeFileSync(data.file('holes/p.1006.exr'), '')
    const spoilt = { ...source('plate'), ...holes }
    const changed = { ...shot, sources: tableOf([spoilt]) }
    const found = checkShot(changed, [await reportOf(spoilt)])
    expect(found.map(({ kind }) => kind)).toEqual(['missing-frames', 'unreadable-1004', 'unreadable-1006'])
    expect(found[2].what).toMatch(/p\.1006\.exr is empty/)
    const fix = found[0].fix
    if (!fix) throw new Error('There is no fix.')
    expect(applyEdit(changed, fix.edit).shot.sources.byId.plate.missing).toBe('repeat')
  })

  test('another size in the middle, half-size renders, more files than the range', async () => {
    const half = await plates('half', (planes) => planes, [1001])
    const { dataWindow, displayWindow, planes } = await readPlate(1001)
    const small = { x: 0, y: 0, width: 320, height: 180 }
    const reduced = planes.map((plane) => ({ ...plane, samples: plane.samples.slice(0, 320 * 180) }))
    for (const n of [1002, 1003])
      writeFileSync(
        data.file(`half/p.${n}.exr`),
        await writeExr([{ dataWindow: small, displayWindow: small, planes: reduced }], {
          compression: 'zip',
          ...packing,
        }),
      )
    const mixed = await kindsFor('plate', { ...half, frames: { first: 1001, last: 1003 } })
    expect(mixed).toContain('changes wrong')
    rmSync(data.file('half/p.1001.exr'))
    const spoilt = { ...source('plate'), ...half, frames: { first: 1002, last: 1003 } }
    const found = checkShot({ ...shot, sources: tableOf([spoilt]) }, [await reportOf(spoilt)])
    expect(found.find(({ kind }) => kind === 'size')?.fix?.edit).toEqual({
      kind: 'set-source',
      source: 'plate',
      changes: { enlarge: 2 },
    })
    expect(displayWindow).toEqual(dataWindow)
    expect(await kindsFor('plate', { frames: { first: 1001, last: 1004 } })).toEqual([
      'range wrong',
      'more-frames look',
    ])
  })

  test('a shadow catcher that ends along a line inside the frame', async () => {
    const window = { x: 0, y: 0, ...shot.frameSize }
    const samples = Uint16Array.from({ length: 640 * 360 }, (_, i) => {
      const [x, y] = [i % 640, Math.floor(i / 640)]
      return floatToHalf(y + 0.2 * x > 300 ? 0 : Math.max(0, 0.8 - Math.hypot(x - 300, y - 240) / 200))
    })
    const plane: Plane = { name: 'Y', type: 'half', samples }
    writeFileSync(
      data.file('cut.exr'),
      await writeExr([{ dataWindow: window, displayWindow: window, planes: [plane] }], {
        compression: 'zip',
        ...packing,
      }),
    )
    const spoilt: Source = { ...source('front'), path: 'cut.exr', frames: null }
    const uses = [{ part: null, takes: 'scalar' as const, neutral: 0 as const }]
    const report = await measureSource({ place, source: spoilt, uses, frames: [null] })
    const found = checkShot({ ...shot, sources: tableOf([spoilt]) }, [report])
    expect(found.map(({ kind }) => kind)).toEqual(['straight-edge'])
    expect(found[0].where).toMatch(/^from \d+ \d+ to \d+ \d+/)
  })

  test.each([
    ['turned over', { turned: true }, 'map-upside-down wrong'],
    ['with a hole', { hole: true }, 'map-holes wrong'],
    ['cut on the left', { cut: true }, 'map-holes wrong'],
    ['of half the size', { half: true }, 'size wrong'],
  ] as const)('a lens map %s', async (name, spoil, kind) => {
    const path = `lens-${name.replace(/ /g, '-')}.exr`
    writeFileSync(data.file(path), await spoiltMap(spoil))
    expect(await kindsFor('lens', { path })).toEqual([kind])
    // Taken the other way up, only the one that is turned over fits.
    const up = await kindsFor('lens', { path, greenUp: true })
    expect(up).toEqual('turned' in spoil ? [] : [kind, 'map-upside-down wrong'])
  })

  test('a hole that comes on a later frame is found there', async () => {
    for (const n of [1001, 1002]) writeFileSync(data.file(`map.${n}.exr`), await spoiltMap({ hole: n === 1002 }))
    const changes = { path: 'map.####.exr', frames: { first: 1001, last: 1002 } }
    const spoilt = { ...source('lens'), ...changes }
    const shorter = { ...shot, frames: changes.frames, sources: { byId: { ...shot.sources.byId, lens: spoilt } } }
    const found = checkShot(shorter, [await reportOf(spoilt)])
    expect(found.map(({ kind, where }) => [kind, where])).toEqual([['map-holes', 'first at 301 101, frame 1002']])
  })

  test('a map’s way up is a claim with a way out', async () => {
    writeFileSync(data.file('turned.exr'), await spoiltMap({ turned: true }))
    const spoilt = { ...source('lens'), path: 'turned.exr' }
    const changed = { ...shot, sources: { byId: { ...shot.sources.byId, lens: spoilt } } }
    const report = await reportOf(spoilt)
    const [{ fix }] = checkShot(changed, [report])
    if (!fix) throw new Error('There is no fix.')
    const voice = (of: Shot) =>
      voicesOf(of, of.sources.byId.lens, report).find(({ claim }) => claim === 'green grows') ?? null
    expect(voice(changed)).toMatchObject({ pixels: 'upwards', you: 'downwards', agree: false })
    expect(voice(applyEdit(changed, fix.edit).shot)).toMatchObject({ pixels: 'upwards', you: 'upwards', agree: true })
  })

  test('rates, aspects and wrong extensions', async () => {
    const planes = [0, 1, 2].map(() => Float32Array.from({ length: 640 * 360 }, (_, i) => ((i * 7919) % 1000) / 1200))
    for (const n of [1, 2, 3])
      writeFileSync(
        data.file(`odd.${n}.exr`),
        writeDpx(
          shot.frameSize,
          planes.map((p) => p.map((v) => v * (1 - n / 9))),
          { bits: 10, rate: 25, pixelAspect: 2 },
        ),
      )
    const found = await kindsFor('plate', { path: 'odd.#.exr', frames: { first: 1, last: 3 } })
    expect(found).toEqual(expect.arrayContaining(['rate wrong', 'pixel-aspect wrong', 'misnamed look', 'range wrong']))
  })
})

test('pictures of a movie that last differently long, where the frames say what they were decoded from', async () => {
  const folder = await plates('from-movie', (planes) => planes)
  expect(await kindsFor('plate', folder)).toEqual([])
  const note = (uneven: unknown) => writeFileSync(data.file('from-movie/movie.json'), JSON.stringify(uneven))
  note({ movie: 'tide.mp4', uneven: [] })
  expect(await kindsFor('plate', folder)).toEqual([])
  note({ movie: 'tide.mp4', uneven: [{ picture: 3, frames: 2 }] })
  expect(await kindsFor('plate', folder)).toEqual(['uneven look'])
  // Somebody else's file of that name says nothing.
  note({ title: 'Tide' })
  expect(await kindsFor('plate', folder)).toEqual([])
})

test('a source outside the media roots is refused, links included', async () => {
  const report = await reportOf({ ...source('clean'), path: '../outside.exr' })
  expect(report.unreadable[0].sentence).toMatch(/lies outside the media roots/)
  const { symlinkSync } = await import('node:fs')
  symlinkSync('/etc/hostname', join(data.shot, 'link.exr'))
  expect((await reportOf({ ...source('clean'), path: 'link.exr' })).unreadable[0].sentence).toMatch(/outside the media/)
})
