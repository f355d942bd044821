import { execFile } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { promisify } from 'node:util'
import type { LensFromLines } from '../core/lens'
import { bent, straightener, type Lens } from '../core/motion/lens'
import { newTreatment } from '../core/shot'
import { floatToHalf } from '../core/image/half'
import { cornersOffAsTold } from '../core/lens/test/known-lenses'
import { photographOf } from '../core/lens/test/known-chart'
import { bytesSource, readExr, writeExr } from '../formats/exr'
import { deflate, unpacking } from './media/exr-blocks'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from './test/running-server'

/** The lens of the demo's camera, from the grid that was photographed through it: by the command line and over HTTP. */

const data = new DataFolder()
let server: RunningServer
let shot: string
beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  const { shots } = (await ask<{ shots: { id: string }[] }>(server, '/api/shots')).body
  shot = shots[0].id
})
afterAll(async () => {
  await server.stop()
  data.remove()
})

const file = 'quay-010.shot.json'
const grid = { id: 'grid', name: 'Lens grid', path: 'lens/quay-010_grid.exr', frames: null }
const claims = { encoding: 'linear', primaries: 'rec709', alpha: 'none' }
const post = <T>(path: string, body: object) => ask<T>(server, path, body)
let revision = 1
async function edit(change: object): Promise<void> {
  const body = { id: randomUUID(), baseRevision: revision, tab: 'test', edit: change }
  const answer = await post<{ revision: number }>(`/api/shots/${shot}/edits`, body)
  expect(answer.status).toBe(200)
  revision = answer.body.revision
}
const enkrasis = (...args: string[]) =>
  promisify(execFile)('node', ['bin/enkrasis.mjs', 'lens', ...args]).then(
    ({ stdout }) => ({ status: 0, stdout, stderr: '' }),
    (error: { code: number; stdout: string; stderr: string }) => ({ ...error, status: error.code }),
  )

/** As the stand-in camera says that it is. */
function truth(): Lens {
  const { focalPx, centrePx, k1, k2 } = JSON.parse(readFileSync(data.file('lens/quay-010_lens.json'), 'utf8')) as {
    focalPx: number
    centrePx: [number, number]
    k1: number
    k2: number
  }
  return { centre: centrePx, unit: focalPx, squeeze: 1, k1, k2, k3: 0, p1: 0, p2: 0 }
}
/** How far the corners of the frame lie off, in pixels. */
const cornersOff = (found: Lens) =>
  Math.max(
    ...[0, 640].flatMap((x) =>
      [0, 360].map((y) => {
        const there = bent(found, straightener(truth())(x, y) as [number, number])
        return Math.hypot(there[0] - x, there[1] - y)
      }),
    ),
  )

/** A shot file beside the demo's, with the grid among its sources. */
function withGrid(): string {
  const document = JSON.parse(readFileSync(data.file(file), 'utf8')) as { sources: { byId: Record<string, unknown> } }
  document.sources.byId.grid = { ...grid, claims }
  const path = data.file('with-grid.shot.json')
  writeFileSync(path, JSON.stringify(document))
  return path
}

test('from the grid the command line finds the lens, tells what is left, and writes maps of it', async () => {
  const [json, maps] = [data.file('lens.json'), data.file('maps')]
  const threads = ['--threads', '1']
  const { status, stdout } = await enkrasis(
    'solve',
    withGrid(),
    '--source',
    'Lens grid',
    '--json',
    json,
    '--maps',
    maps,
    ...threads,
  )
  expect(status).toBe(0)
  expect(stdout).toMatch(/\d+ of \d+ lines are straight by one lens: they bow by [\d.]+ px without it/)
  const found = JSON.parse(readFileSync(json, 'utf8')) as Lens & {
    focalPx: number
    centrePx: [number, number]
    heldOutBow: number
  }
  // Its lines are 3 pixels wide and 32 apart.
  expect(found.heldOutBow).toBeLessThan(0.4)
  const lens = { ...found, unit: found.focalPx, centre: found.centrePx }
  expect(cornersOff(lens)).toBeLessThan(0.5)
  const map = await readExr(bytesSource(new Uint8Array(readFileSync(`${maps}/redistort.exr`)), 'map'), {
    ...unpacking,
    channels: ['R', 'G'],
  })
  const [x, y] = straightener(lens)(600.5, 20.5) as [number, number]
  expect(map.planes[0].samples[20 * 640 + 600] * 640).toBeCloseTo(x, 3)
  expect(map.planes[1].samples[20 * 640 + 600] * 360).toBeCloseTo(y, 3)
  // The same maps of the lens that was written.
  expect((await enkrasis('maps', json, '--maps', data.file('again'))).status).toBe(0)
  expect(readFileSync(`${data.file('again')}/redistort.exr`).equals(readFileSync(`${maps}/redistort.exr`))).toBe(true)
})

test('from photographs of a chart of squares it finds the corners by itself, and the lens; a grid is none', async () => {
  const frame = { width: 640, height: 360 }
  const lens = truth()
  const boards = [
    [36, 3, 70, -2, 37, 30, 1e-4, 4e-4, 1],
    [40, -2, 90, 3, 38, 20, -4e-4, 2e-4, 1],
  ] as const
  for (const [i, motion] of boards.entries()) {
    const { values } = photographOf({ frame, lens, motion, squares: [13, 9], noise: 0.003, seed: i + 1 })
    const samples = Uint16Array.from(values, floatToHalf)
    const planes = ['R', 'G', 'B'].map((name) => ({ name, type: 'half' as const, samples }))
    const window = { x: 0, y: 0, ...frame }
    const parts = [{ dataWindow: window, displayWindow: window, planes }]
    writeFileSync(data.file(`lens/board.${1001 + i}.exr`), await writeExr(parts, { compression: 'zip', deflate }))
  }
  const document = JSON.parse(readFileSync(withGrid(), 'utf8')) as { sources: { byId: Record<string, unknown> } }
  const board = { id: 'board', name: 'Board', path: 'lens/board.####.exr', frames: { first: 1001, last: 1002 }, claims }
  document.sources.byId.board = board
  const path = data.file('with-board.shot.json')
  writeFileSync(path, JSON.stringify(document))
  const json = data.file('board.json')
  const { status, stdout } = await enkrasis('solve', path, '--source', 'Board', '--squares', '--json', json)
  expect(status).toBe(0)
  expect(stdout).toMatch(/1001: 9\d corners of squares\n1002: 9\d corners of squares\n/)
  const found = JSON.parse(readFileSync(json, 'utf8')) as Lens & {
    focalPx: number
    centrePx: [number, number]
    rms: number
  }
  expect(found.rms).toBeLessThan(0.1)
  const solved = { ...found, unit: found.focalPx, centre: found.centrePx }
  expect(cornersOffAsTold(solved, lens, frame)).toBeLessThan(0.5)
  const onGrid = await enkrasis('solve', path, '--source', 'Lens grid', '--squares')
  expect(onGrid.stderr).toContain('No chart of dark and light squares was found on frame 1001.')
  await edit({ kind: 'add-source', source: { ...grid, id: 'lines', claims } })
  await edit({ kind: 'add-source', source: { ...board, claims } })
  const ask = (source: string) =>
    post<{ rms: number; looked: number; photographs: { frame: number; seen: number[] }[]; message: string }>(
      `/api/shots/${shot}/lens-of-chart`,
      { source, frame: 1001, squeeze: 1, tangential: false },
    )
  const told = await ask('board')
  expect(told.status).toBe(200)
  expect(told.body.looked).toBe(2)
  expect(told.body.photographs.map((one) => one.frame)).toEqual([1001, 1002])
  expect(told.body.rms).toBeCloseTo(found.rms, 6)
  const refused = await ask('lines')
  expect(refused.status).toBe(422)
  expect(refused.body.message).toContain('of a grid of lines, find the lines')
})

test('what is no source, holds no lens or tells nothing is said in a sentence', async () => {
  expect((await enkrasis('solve', data.file(file), '--source', 'chart')).stderr).toContain(
    'has no source "chart". It has:',
  )
  expect((await enkrasis('maps', data.file(file), '--maps', data.file('none'))).stderr).toContain('holds no lens')
  const lines = data.file('lines.json')
  writeFileSync(lines, JSON.stringify({ lines: [[[0, 0], [10, 0], [20, 1]]] })) // prettier-ignore
  expect((await enkrasis('solve', data.file(file), '--lines', lines)).stderr).toContain(
    'Only one line has 3 places or more',
  )
  writeFileSync(lines, JSON.stringify({ lines: [[[0, 0]]] }))
  expect((await enkrasis('solve', data.file(file), '--lines', lines)).stderr).toContain('holds no lines')
})

test('from marks of a chart, wherever they were found, the lens is the same', async () => {
  const [chart, json] = [data.file('chart.json'), data.file('chart-lens.json')]
  const marks = Array.from({ length: 48 }, (_, i) => [i % 8, Math.floor(i / 8)] as const)
  const photographs = [0, 1, 2].map((n) => ({
    marks,
    seen: marks.map(([u, v]) => {
      const w = 1 + 0.01 * n * u
      return bent(truth(), [(20 + 30 * n + 70 * u) / w, (15 + 10 * n + 55 * v + 2 * n * u) / w])
    }),
  }))
  writeFileSync(chart, JSON.stringify({ photographs }))
  const { status, stdout } = await enkrasis('solve', data.file(file), '--chart', chart, '--json', json)
  expect([status, stdout]).toEqual([0, expect.stringContaining('The marks lie 0.000 px (rms)') as string])
  const found = JSON.parse(readFileSync(json, 'utf8')) as Lens & { focalPx: number; centrePx: [number, number] }
  expect(cornersOff({ ...found, unit: found.focalPx, centre: found.centrePx })).toBeLessThan(0.05)
  writeFileSync(chart, JSON.stringify({ photographs: [] }))
  expect((await enkrasis('solve', data.file(file), '--chart', chart)).stderr).toContain('holds no chart')
})

describe('over HTTP', () => {
  const lines = (body: object) =>
    post<{ lines: number[][]; message?: string }>(`/api/shots/${shot}/straight-lines`, body)

  test('lines are found on a source, a stroke is brought onto the plate’s edge, and the lens follows from them', async () => {
    await edit({ kind: 'add-source', source: { ...grid, claims } })
    const found = await lines({ source: 'grid', frame: 1001 })
    expect(found.status).toBe(200)
    expect(found.body.lines.length).toBeGreaterThan(20)
    const measured = await post<LensFromLines>(`/api/shots/${shot}/lens`, {
      ...{ lines: found.body.lines, squeeze: 1, tangential: false },
    })
    expect(cornersOff(measured.body.lens)).toBeLessThan(0.5)
    // Along the crane's arm.
    const stroke = await lines({ source: null, frame: 1001, stroke: [330, 22, 560, 24] })
    expect(stroke.body.lines).toHaveLength(1)
    // Along nothing.
    const sky = await lines({ source: null, frame: 1001, stroke: [150, 20, 250, 25] })
    expect(sky.body.lines).toEqual([])
  })

  test('what cannot be measured is refused with a sentence', async () => {
    const few = await post<{ message: string }>(`/api/shots/${shot}/lens`, { lines: [], squeeze: 1, tangential: false })
    expect([few.status, few.body.message]).toEqual([422, expect.stringContaining('No line has 3 places') as string])
    const gone = await lines({ source: 'nowhere', frame: 1001 })
    expect([gone.status, gone.body.message]).toEqual([422, expect.stringContaining('Choose another frame') as string])
  })

  test('a lens of the shot is read as a map, and one that is gone is not', async () => {
    const settings = newTreatment('lens', 'numbers', { k1: [-0.05] })
    const use = { id: 'numbers-use', owner: { kind: 'glass' }, treatment: 'numbers', rank: 'a5', on: true, limit: null }
    await edit({ kind: 'add-treatment', settings, use })
    const askMap = (treatment: string) =>
      fetch(`${server.url}/api/shots/${shot}/lens-map?treatment=${treatment}&frame=1001&leads=to-bent`)
    const answer = await askMap('numbers')
    expect(answer.headers.get('content-disposition')).toContain('quay-010_undistort.exr')
    const map = await readExr(bytesSource(new Uint8Array(await answer.arrayBuffer()), 'map'), {
      ...unpacking,
      channels: ['R'],
    })
    // Over the overscan.
    expect(map.dataWindow.x).toBeLessThan(0)
    expect(map.dataWindow.width).toBeGreaterThan(640)
    const gone = await askMap('other')
    expect([gone.status, await gone.json()]).toEqual([422, { message: 'That lens is not in this shot any more.' }])
  })
})
