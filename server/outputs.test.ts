import { execFile, execFileSync } from 'node:child_process'
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { promisify } from 'node:util'
import sharp from 'sharp'
import { decoder, encoder } from '../core/colour'
import { halfToFloat } from '../core/image/half'
import { usualOutput } from '../core/delivery'
import { filesIn } from '../core/plan/catalog'
import {
  matteBase,
  newDrawnMatte,
  newShape,
  newTreatment,
  tableOf,
  type Matte,
  type Shot,
  type Use,
} from '../core/shot'
import { readDpx } from '../formats/dpx'
import { readExr } from '../formats/exr'
import { renderOutputs } from './delivery/render-outputs'
import { nodeEngine } from './engine/node-engine'
import { catalogOf } from './media/catalog'
import { unpacking } from './media/exr-blocks'
import { withFile } from './media/file-source'
import { readSourceFrame } from './media/read-frame'
import { readShotFile } from './shots/shot-store'
import { DataFolder } from './test/running-server'
import { heldUpByDisk } from './work/disk'

/** What deliveries can be made of, judged by Debian's programs and by what the pixels must be. */

const data = new DataFolder()
const out = mkdtempSync(join(tmpdir(), 'enkrasis-outputs-'))
afterAll(() => {
  data.remove()
  rmSync(out, { recursive: true, force: true })
})
const shotFile = data.file('quay-010.shot.json')
const render = (...args: string[]) =>
  promisify(execFile)('node', ['bin/enkrasis.mjs', 'render', shotFile, '--threads', '2', ...args])
const exr = (path: string) => withFile(path, path, (source) => readExr(source, { ...unpacking }))
const plane = async (path: string, name: string) => (await exr(path)).planes.find((one) => one.name === name)?.samples
const comp = join(out, 'zip', 'quay-010_comp.1002.exr')
beforeAll(() => render('--frames', '1002', '--out', join(out, 'zip')), 60_000)

test.each(['none', 'zips', 'piz'])(
  'EXR compressed as %s holds the same pixels; OpenEXR reads it so',
  async (compression) => {
    const folder = join(out, compression)
    await render('--frames', '1002', '--out', folder, '--compression', compression)
    const path = join(folder, 'quay-010_comp.1002.exr')
    expect((await exr(path)).planes).toEqual((await exr(comp)).planes)
    expect(execFileSync('exrinfo', [path], { encoding: 'utf8' })).toContain(`compression: '${compression}'`)
    expect(execFileSync('oiiotool', ['--diff', path, comp], { encoding: 'utf8' })).toContain('PASS')
  },
)

test('an element has its coverage, premultiplied, in a data window of its content', async () => {
  await render('--frames', '1002', '--out', out, '--of', 'Diving bell', '--cut', '--samples', 'float')
  const { dataWindow, displayWindow, planes } = await exr(join(out, 'quay-010_Diving_bell.1002.exr'))
  expect(planes.map(({ name, type }) => [name, type])).toEqual(['A', 'B', 'G', 'R'].map((name) => [name, 'float']))
  expect(displayWindow).toEqual({ x: 0, y: 0, width: 640, height: 360 })
  expect(dataWindow.width * dataWindow.height).toBeLessThan(640 * 360 * 0.5)
  const [alpha] = planes
  const { width, height } = dataWindow
  // Every edge of the window has something in it.
  const edge = (at: (i: number) => number, count: number) =>
    Array.from({ length: count }, (_, i) => planes.some(({ samples }) => samples[at(i)] !== 0)).some(Boolean)
  expect(edge((i) => i, width)).toBe(true)
  expect(edge((i) => (height - 1) * width + i, width)).toBe(true)
  expect(edge((i) => i * width, height)).toBe(true)
  expect(edge((i) => i * width + width - 1, height)).toBe(true)
  expect(alpha.samples.filter((one) => Math.abs(one - 1) < 1e-3).length).toBeGreaterThan(1000)
})

test('a matte is the coverage alone', async () => {
  await render('--frames', '1002', '--out', out, '--of', 'matte of Diving bell', '--samples', 'float')
  await render('--frames', '1002', '--out', join(out, 'whole'), '--of', 'Diving bell', '--samples', 'float')
  const matte = await exr(join(out, 'quay-010_matte_of_Diving_bell.1002.exr'))
  expect(matte.planes.map(({ name }) => name)).toEqual(['Y'])
  // Moving the element lets its alpha overshoot a little; there is no more than full coverage.
  const alpha = await plane(join(out, 'whole/quay-010_Diving_bell.1002.exr'), 'A')
  expect(matte.planes[0].samples).toEqual(alpha?.map((one) => Math.min(1, Math.max(0, one))))
})

test('a matte of the shot is one channel, with the area that its outline covers of each pixel', async () => {
  const shot = await readShotFile(shotFile)
  const matte = newDrawnMatte(shot)
  const corner = (x: number, y: number) => ({ x, y, before: [0, 0], after: [0, 0] }) as const
  const shape = newShape(matte, 1002, [
    corner(100.25, 50),
    corner(300.5, 50),
    corner(300.5, 200.75),
    corner(100.25, 200.75),
  ])
  const drawn = { ...matte, name: 'Post', shapes: tableOf([shape]) }
  const file = data.file('matte.shot.json')
  writeFileSync(file, JSON.stringify({ ...shot, mattes: tableOf([drawn]) }))
  await promisify(execFile)('node', [
    ...['bin/enkrasis.mjs', 'render', file, '--threads', '2', '--frames', '1002', '--out', out],
    ...['--of', 'Post', '--samples', 'float'],
  ])
  const { planes, dataWindow } = await exr(join(out, 'quay-010_Post.1002.exr'))
  expect(planes.map(({ name }) => name)).toEqual(['Y'])
  const at = (x: number, y: number) => planes[0].samples[y * dataWindow.width + x]
  expect([at(200, 100), at(99, 100), at(100, 100), at(300, 100), at(200, 200), at(100, 200)]).toEqual([
    ...[1, 0, 0.75, 0.5, 0.75, 0.5625],
  ])
})

test('it lies where the finish moves the picture, and one that cannot be made is refused with its sentence', async () => {
  const shot = await readShotFile(shotFile)
  const matte = newDrawnMatte(shot)
  const corner = (x: number, y: number) => ({ x, y, before: [0, 0], after: [0, 0] }) as const
  const shape = newShape(matte, 1002, [corner(200, 100), corner(300, 100), corner(300, 200), corner(200, 200)])
  const drawn = { ...matte, name: 'Post', shapes: tableOf([shape]) }
  const gone = { ...matteBase(shot, 'alpha'), name: 'Gone', element: 'nothing' }
  const file = data.file('moved.shot.json')
  const use = { id: 'out', rank: 'a0', owner: { kind: 'finish' }, treatment: 'out', on: true, limit: null } as const
  const changed = {
    ...shot,
    mattes: tableOf<Matte>([drawn, gone]),
    treatments: tableOf([...Object.values(shot.treatments.byId), newTreatment('reframe', 'out', { scale: [2] })]),
    uses: tableOf<Use>([...Object.values(shot.uses.byId), use]),
  }
  writeFileSync(file, JSON.stringify(changed))
  const matteOut = (of: string) =>
    promisify(execFile)('node', [
      ...['bin/enkrasis.mjs', 'render', file, '--threads', '2', '--frames', '1002', '--out', join(out, 'moved')],
      ...['--of', of, '--samples', 'float'],
    ])
  await matteOut('Post')
  const { planes, dataWindow } = await exr(join(out, 'moved/quay-010_Post.1002.exr'))
  // Twice as large about the middle of the frame, (320, 180): 200 to 300 becomes 80 to 280.
  const row = [...planes[0].samples].slice(150 * dataWindow.width, 151 * dataWindow.width)
  expect(row.reduce((sum, value) => sum + value, 0)).toBeCloseTo(200, 0)
  expect([row[84], row[276], row[75], row[285]]).toEqual([1, 1, 0, 0])
  await expect(matteOut('Gone')).rejects.toThrow(/Matte Gone is taken from an element that is gone/)
})

describe('a plate of ten bits', () => {
  const folder = join(data.shot, 'log')
  let logShot: string

  beforeAll(async () => {
    mkdirSync(folder)
    const from = data.file('plate/quay-010_plate.1002.exr')
    const to = join(folder, 'log.1002.dpx')
    await promisify(execFile)('node', ['bin/enkrasis.mjs', 'convert', from, to, '--to', 'cineon', '--bits', '10'])
    const shot = await readShotFile(shotFile)
    const plate = { ...shot.sources.byId.plate, path: 'log/log.####.dpx' }
    const log: Shot = {
      ...shot,
      sources: { byId: { ...shot.sources.byId, plate: { ...plate, claims: { ...plate.claims, encoding: 'cineon' } } } },
      elements: tableOf(Object.values(shot.elements.byId).filter(({ id }) => id === shot.plate)),
    }
    logShot = join(data.shot, 'log.json')
    writeFileSync(logShot, JSON.stringify(log))
  })

  test('comes back code for code in its own encoding', async () => {
    const args = ['render', logShot, '--frames', '1002', '--out', out, '--format', 'dpx', '--name', 'back.{frame}']
    await promisify(execFile)('node', ['bin/enkrasis.mjs', ...args])
    const [before, after] = [join(folder, 'log.1002.dpx'), join(out, 'back.1002.dpx')].map((path) =>
      readDpx(new Uint8Array(readFileSync(path)), path),
    )
    expect(after.planes.map(({ name }) => name)).toEqual(['R', 'G', 'B'])
    expect(after.planes).toEqual(before.planes)
  })
})

test('through the view: eight bits are the screen’s, sixteen are finer', async () => {
  await render('--frames', '1002', '--out', out, '--format', 'png')
  await render('--frames', '1002', '--out', out, '--format', 'tiff', '--bits', '16')
  const [eight, sixteen] = await Promise.all(
    ['png', 'tif'].map((extension) =>
      sharp(join(out, `quay-010_comp.1002.${extension}`))
        .toColourspace(extension === 'tif' ? 'rgb16' : 'srgb')
        .raw({ depth: extension === 'tif' ? 'ushort' : 'uchar' })
        .toBuffer({ resolveWithObject: true }),
    ),
  )
  const fine = new Uint16Array(sixteen.data.buffer, sixteen.data.byteOffset, sixteen.data.length / 2)
  expect([eight.info.channels, sixteen.info.channels]).toEqual([3, 3])
  const code = encoder('srgb')
  let [worst8, worst16] = [0, 0]
  for (const [c, name] of ['R', 'G', 'B'].entries()) {
    const halves = await plane(comp, name)
    if (!halves) throw new Error('The composite has no such channel.')
    for (let i = 0; i < halves.length; i++) {
      const wanted = Math.min(1, Math.max(0, code(halfToFloat(halves[i]))))
      worst8 = Math.max(worst8, Math.abs(eight.data[i * 3 + c] - wanted * 255))
      worst16 = Math.max(worst16, Math.abs(fine[i * 3 + c] / 65535 - wanted))
    }
  }
  expect(worst8).toBeLessThanOrEqual(0.75)
  // The halves of the composite are rounded to 11 bits.
  expect(worst16).toBeLessThan(6e-4)
})

test('the preview movie has every frame once, at the rate, with its colour said; it shows what the screen shows', async () => {
  await render('--frames', '1001-1006', '--out', out, '--format', 'movie', '--name', 'look')
  const path = join(out, 'look.mp4')
  const [stream] = (
    JSON.parse(
      execFileSync(
        'ffprobe',
        ['-v', 'error', '-count_frames', '-show_streams', '-select_streams', 'v', '-of', 'json', path],
        { encoding: 'utf8' },
      ),
    ) as { streams: Record<string, unknown>[] }
  ).streams
  expect(stream).toMatchObject({
    codec_name: 'h264',
    pix_fmt: 'yuv420p',
    width: 640,
    height: 360,
    r_frame_rate: '24/1',
    nb_read_frames: '6',
    color_range: 'tv',
    color_space: 'bt709',
    color_primaries: 'bt709',
    color_transfer: 'iec61966-2-1',
  })
  expect(readdirSync(out).filter((name) => name.includes('look'))).toEqual(['look.mp4'])
  const second = execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      path,
      '-vf',
      'select=eq(n\\,1),zscale=matrixin=709:rangein=limited:matrix=gbr:range=full,format=gbrp',
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-',
    ],
    { maxBuffer: 1 << 24 },
  )
  const png = await sharp(join(out, 'quay-010_comp.1002.png')).raw().toBuffer()
  let sum = 0
  for (let i = 0; i < png.length; i++) sum += second[i] - png[i]
  expect(Math.abs(sum / png.length)).toBeLessThan(0.5)
})

test('a line burnt in changes the foot of the picture and nothing above it', async () => {
  await render('--frames', '1001-1002', '--out', out, '--format', 'movie', '--name', 'plain')
  await render('--frames', '1001-1002', '--out', out, '--format', 'movie', '--name', 'lined', '--line')
  const first = (name: string) =>
    execFileSync(
      'ffmpeg',
      ['-v', 'error', '-i', join(out, `${name}.mp4`), '-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
      { maxBuffer: 1 << 24 },
    )
  const [plain, lined] = [first('plain'), first('lined')]
  const worst = (from: number, to: number) => {
    let most = 0
    for (let i = from * 640; i < to * 640; i++) most = Math.max(most, Math.abs(plain[i] - lined[i]))
    return most
  }
  expect(worst(330, 360)).toBeGreaterThan(60)
  expect(worst(0, 300)).toBeLessThan(40)
})

test('every run has a folder of its own when versions are wanted', async () => {
  const versions = join(out, 'versions')
  const two = () => render('--frames', '1001', '--scale', '4', '--out', versions, '--versions')
  await Promise.all([two(), two()])
  expect(readdirSync(join(versions, 'quay-010')).sort()).toEqual(['v001', 'v002'])
  expect(readdirSync(join(versions, 'quay-010/v002'))).toEqual(['quay-010_comp_v002.1001.exr'])
})

describe('in mid-delivery', () => {
  const engine = nodeEngine({
    load: (request) => readSourceFrame({ roots: [data.shot], folder: data.shot }, request),
    threads: 1,
    memoryBytes: 128 * 2 ** 20,
    built: pathToFileURL('dist/node/'),
  })
  afterAll(() => engine.close())
  const request = async () => {
    const shot = await readShotFile(shotFile)
    const place = { roots: [data.shot], folder: data.shot }
    const files = filesIn(await catalogOf(place, shot))
    const about = { shot, place, files, scale: 2 as const, outputs: [usualOutput], version: 1, revision: 7 }
    return { ...about, frame: 1003 }
  }
  const folder = join(out, 'full')
  const name = 'quay-010_comp_v001.1003.exr'

  test('a full disk leaves nothing under the file’s name, says so, and is no reason to give up', async () => {
    mkdirSync(folder)
    // Whatever is written to this device, the disk is full.
    symlinkSync('/dev/full', join(folder, `${name}.unfinished-first`))
    const error: unknown = await renderOutputs(engine, await request(), folder, 'first').catch(
      (caught: unknown) => caught,
    )
    expect(error).toMatchObject({ code: 'ENOSPC' })
    expect(heldUpByDisk(error, 'quay-010/v001')).toMatchObject({
      name: 'HeldUpError',
      message: 'The disk is full: quay-010/v001 has no room for the next file. Make room; the work goes on by itself.',
    })
    expect(readdirSync(folder)).toEqual([])
    const { files } = await renderOutputs(engine, await request(), folder, 'second')
    expect(readdirSync(folder)).toEqual([name])
    expect(files).toEqual([{ name, bytes: readFileSync(join(folder, name)).length }])
  })

  test('a source that changes meanwhile is said, and no file is written', async () => {
    const plate = data.file('plate/quay-010_plate.1003.exr')
    const early = await request()
    const changing = new Proxy(engine, {
      get(target, property) {
        if (property === 'halves') utimesSync(plate, new Date(), new Date(Date.now() + 5000))
        const value: unknown = Reflect.get(target, property)
        return typeof value === 'function' ? (value as () => unknown).bind(target) : value
      },
    })
    const before = readFileSync(join(folder, name))
    await expect(renderOutputs(changing, early, folder)).rejects.toThrow(
      'plate/quay-010_plate.1003.exr changed while it was delivered. Wait until it is written completely, then retry.',
    )
    expect(readFileSync(join(folder, name)).equals(before)).toBe(true)
    expect(existsSync(join(folder, name))).toBe(true)
  })
})

test('light of the delivered plate encoding decodes to the light of the composite', async () => {
  await render('--frames', '1002', '--out', join(out, 'coded'), '--encoding', 'view', '--samples', 'float')
  const light = decoder('srgb')
  const coded = await plane(join(out, 'coded/quay-010_comp.1002.exr'), 'G')
  const linear = await plane(comp, 'G')
  if (!coded || !linear) throw new Error('The composite has no green.')
  let worst = 0
  for (let i = 0; i < coded.length; i++) {
    const wanted = halfToFloat(linear[i])
    worst = Math.max(worst, Math.abs(light(coded[i]) - wanted) / Math.max(0.01, Math.abs(wanted)))
  }
  expect(worst).toBeLessThan(1e-3)
})
