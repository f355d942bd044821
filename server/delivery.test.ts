import { execFile } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { readExr, readExrHeader, standardAttributes, words } from '../formats/exr'
import { unpacking } from './media/exr-blocks'
import { withFile } from './media/file-source'
import { readShotFile } from './shots/shot-store'
import { usualOutput, type DeliveryOutput, type DeliveryStatus } from '../core/delivery'
import { tableOf } from '../core/shot'
import type { Proof } from '../core/witnesses'
import { isOver, type WorkStatus } from '../core/work'
import { ask, DataFolder, newDatabase, runServer, until, type RunningServer } from './test/running-server'

/** Deliveries by the server and by the command line, on real files. */

const data = new DataFolder()
const scratch = mkdtempSync(join(tmpdir(), 'enkrasis-out-'))
let database: string
let server: RunningServer
beforeAll(async () => {
  database = await newDatabase()
  server = await runServer(database, data.path)
})
afterAll(async () => {
  await server.stop()
  data.remove()
  rmSync(scratch, { recursive: true, force: true })
})

const plain: DeliveryOutput = { ...usualOutput, pattern: '{shot}_{output}.{frame}' }
const start = async (first: number, last: number, scale = 1, outputs: readonly DeliveryOutput[] = [plain]) =>
  (await ask<DeliveryStatus>(server, '/api/shots/quay-010/deliveries', { first, last, scale, outputs })).body
const folderOf = ({ folder }: DeliveryStatus) => join(data.path, 'delivery', folder)
const status = async (id: string) =>
  (await ask<DeliveryStatus[]>(server, '/api/shots/quay-010/deliveries')).body.find(
    (one) => one.id === id,
  ) as DeliveryStatus
const finished = (id: string) =>
  until(
    () => status(id),
    (now) => isOver(now.work),
  )
const commandLine = (...args: string[]) => promisify(execFile)('node', ['bin/enkrasis.mjs', ...args])
const shotFile = data.file('quay-010.shot.json')
const planesOf = (path: string, part?: string, channels?: string[]) =>
  withFile(path, path, (source) => readExr(source, { ...unpacking, part, channels }))

const attributesOf = (path: string) =>
  withFile(path, path, async (source) => (await readExrHeader(source)).parts[0].attributes)

describe('a delivery', () => {
  test.each([1, 2, 4])('by the server and by the command line gives identical files (scale %i)', async (scale) => {
    const delivery = await start(1001, 1002, scale)
    expect((await finished(delivery.id)).work.state).toBe('done')
    const out = join(scratch, `scale-${scale}`)
    await commandLine(
      'render',
      shotFile,
      '--frames',
      '1001-1002',
      '--out',
      out,
      '--scale',
      String(scale),
      '--threads',
      scale === 2 ? '1' : '3',
    )
    expect(readdirSync(out).sort()).toEqual(['quay-010_comp.1001.exr', 'quay-010_comp.1002.exr'])
    expect(readdirSync(folderOf(delivery)).sort()).toEqual(readdirSync(out).sort())
    for (const name of readdirSync(out)) {
      const [here, there] = [join(out, name), join(folderOf(delivery), name)]
      expect(await planesOf(here)).toEqual(await planesOf(there))
      // Only the server knows a revision.
      const [plainly, revised] = [await attributesOf(here), await attributesOf(there)]
      expect(new Map(plainly).set('shotRevision', words('int', [1]))).toEqual(revised)
    }
  })

  test('leaves every pixel that the CG does not touch bit for bit the plate’s', async () => {
    const out = join(scratch, 'identity')
    // Without the lens, so that the passes' own pixels say what they touch.
    const straight = data.file('straight.json')
    const shot = await readShotFile(shotFile)
    const off = Object.values(shot.uses.byId).map((use) => ({ ...use, on: use.treatment !== 'lens' }))
    writeFileSync(straight, JSON.stringify({ ...shot, uses: tableOf(off) }))
    await commandLine('render', straight, '--frames', '1004', '--out', out)
    const comp = await planesOf(join(out, 'quay-010_comp.1004.exr'))
    const plate = await planesOf(data.file('plate/quay-010_plate.1004.exr'))
    const cg = data.file('cg/quay-010_bell.1004.exr')
    const [beauty, shadow, occlusion, mirrored] = await Promise.all(
      ['beauty', 'shadow', 'occlusion', 'ground_reflection'].map((part) => planesOf(cg, part)),
    )
    const neutral = (planes: typeof beauty, x: number, y: number, value: number) => {
      const { dataWindow: w } = planes
      if (x < w.x || y < w.y || x >= w.x + w.width || y >= w.y + w.height) return true
      return planes.planes.every(({ samples }) => samples[(y - w.y) * w.width + x - w.x] === value)
    }
    const { width, height } = plate.dataWindow
    let untouched = 0
    let changed = 0
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const at = y * width + x
        const same = ['R', 'G', 'B'].every(
          (name) =>
            comp.planes.find((p) => p.name === name)?.samples[at] ===
            plate.planes.find((p) => p.name === name)?.samples[at],
        )
        if (
          neutral(beauty, x, y, 0) &&
          neutral(shadow, x, y, 0) &&
          neutral(occlusion, x, y, 0x3c00) &&
          neutral(mirrored, x, y, 0)
        ) {
          untouched++
          if (!same) throw new Error(`pixel ${x} ${y} is touched by nothing, but differs from the plate`)
        } else if (!same) changed++
      }
    }
    expect(untouched).toBeGreaterThan(width * height * 0.5)
    expect(changed).toBeGreaterThan(1000)
  })

  test('can carry the proof of its frames, which says what the command says', async () => {
    const proof: DeliveryOutput = {
      of: { what: 'composite' },
      name: 'proof',
      pattern: '{shot}_{output}',
      format: 'proof',
    }
    const delivery = await start(1001, 1005, 4, [plain, proof])
    expect((await finished(delivery.id)).work.state).toBe('done')
    const folder = folderOf(delivery)
    expect(readdirSync(folder)).toEqual(expect.arrayContaining(['quay-010_proof.html', 'quay-010_proof.json']))
    const found = JSON.parse(readFileSync(join(folder, 'quay-010_proof.json'), 'utf8')) as Proof
    expect(found).toMatchObject({ shot: 'quay-010', first: 1001, last: 1005, revision: delivery.revision })
    expect(readFileSync(join(folder, 'quay-010_proof.html'), 'utf8')).toContain('Black of Diving bell')
    const [out, outputs] = [join(scratch, 'proof'), join(scratch, 'proof-outputs.json')]
    writeFileSync(outputs, JSON.stringify([proof]))
    await commandLine('render', shotFile, '--frames', '1001-1005', '--out', out, '--outputs', outputs)
    const there = JSON.parse(readFileSync(join(out, 'quay-010_proof.json'), 'utf8')) as Proof
    expect(there).toEqual({ ...found, revision: null })
  }, 120_000)

  test('keeps rate, time code, pixel aspect and chromaticities of the plate', async () => {
    const out = join(scratch, 'identity')
    const attributes = (path: string) =>
      withFile(path, path, async (source) => standardAttributes((await readExrHeader(source)).parts[0]))
    expect(await attributes(join(out, 'quay-010_comp.1004.exr'))).toEqual(
      await attributes(data.file('plate/quay-010_plate.1004.exr')),
    )
    expect((await attributes(join(out, 'quay-010_comp.1004.exr'))).framesPerSecond).toEqual({
      numerator: 24,
      denominator: 1,
    })
  })

  test('goes on after the server died in the middle, and does no frame twice', async () => {
    const delivery = await start(1001, 1006)
    await until(
      () => status(delivery.id),
      (now) => now.work.done >= 1,
    )
    await server.kill()
    const before = new Map(
      (existsSync(folderOf(delivery)) ? readdirSync(folderOf(delivery)) : []).map((name) => [
        name,
        readFileSync(join(folderOf(delivery), name)),
      ]),
    )
    server = await runServer(database, data.path)
    const end = await finished(delivery.id)
    expect(end.work).toMatchObject({ state: 'done', done: 6, failed: [] })
    const names = readdirSync(folderOf(delivery)).filter((name) => !name.includes('unfinished'))
    expect(names).toHaveLength(6)
    for (const [name, bytes] of before)
      if (!name.includes('unfinished')) expect(readFileSync(join(folderOf(delivery), name)).equals(bytes)).toBe(true)
  })

  test('can be cancelled: what is done stays, nothing more comes', async () => {
    const delivery = await start(1001, 1006)
    const { body } = await ask<WorkStatus>(server, `/api/work/${delivery.work.id}/cancel`, {})
    expect(body.state).toBe('cancelled')
    await new Promise((done) => setTimeout(done, 1500))
    const left = await status(delivery.id)
    expect(left.work.done).toBeLessThan(6)
    expect(
      existsSync(folderOf(delivery)) ? readdirSync(folderOf(delivery)).filter((n) => n.endsWith('.exr')).length : 0,
    ).toBeLessThanOrEqual(left.work.done + 1)
  })

  test('that is removed while its frames are made leaves no file, and is not made again', async () => {
    for (const wait of [0, 150, 300, 450, 600, 750]) {
      const delivery = await start(1001, 1006)
      await new Promise((done) => setTimeout(done, wait))
      const removed = await ask<DeliveryStatus>(server, `/api/deliveries/${delivery.id}/remove`, {})
      expect(removed.body).toMatchObject({ removed: true })
      const again = await ask<{ message: string }>(server, `/api/work/${delivery.work.id}/retry`, {})
      expect([again.status, again.body.message]).toEqual([
        409,
        `The files of v${String(delivery.version).padStart(3, '0')} were removed and are not made again. Deliver once more.`,
      ])
      await new Promise((done) => setTimeout(done, 1200))
      expect(existsSync(folderOf(delivery))).toBe(false)
    }
  })

  test('names the frames that failed and renders the others', async () => {
    truncateSync(data.file('plate/quay-010_plate.1005.exr'), 100_000)
    const end = await finished((await start(1004, 1006)).id)
    expect(end.work).toMatchObject({ state: 'failed', done: 2 })
    expect(end.work.failed).toEqual([
      {
        item: 1005,
        sentence: expect.stringMatching(
          /^Reading quay-010_plate\.1005\.exr: rows \d+ to \d+ cannot be read: the file ends/,
        ),
      },
    ])
    await expect(
      commandLine('render', shotFile, '--frames', '1004-1006', '--out', join(scratch, 'failed')),
    ).rejects.toMatchObject({
      code: 1,
      stderr: expect.stringMatching(
        /Frame 1005 was not rendered\. Reading quay-010_plate\.1005\.exr[^]*1 of 3 frames were not rendered; the others are complete\./,
      ),
    })
    expect(readdirSync(join(scratch, 'failed')).sort()).toEqual(['quay-010_comp.1004.exr', 'quay-010_comp.1006.exr'])
  })

  test('outside the shot’s range is refused with a sentence', async () => {
    const { status: code, body } = await ask<{ message: string }>(server, '/api/shots/quay-010/deliveries', {
      first: 990,
      last: 1001,
      outputs: [plain],
    })
    expect(code).toBe(422)
    expect(body.message).toBe(
      "Frames 990 to 1001 are not inside the shot's range, 1001 to 1006. Choose frames inside it.",
    )
    await expect(commandLine('render', shotFile, '--frames', '2000', '--out', scratch)).rejects.toMatchObject({
      code: 1,
      stderr: expect.stringContaining("not inside the shot's range, 1001 to 1006"),
    })
  })
})
