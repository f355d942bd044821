import { tableOf, type Shot } from '../core/shot'
import { execFile } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { encodingNames } from '../core/colour'
import { halfToFloat } from '../core/image/half'
import { readDpx, readDpxHeader } from '../formats/dpx'
import { readExr, readExrHeader, standardAttributes } from '../formats/exr'
import type { CheckedShot } from './check/check-shot-file'
import { unpacking } from './media/exr-blocks'
import { withFile } from './media/file-source'
import { smallData } from './test/running-server'

/** The command line on its own: no server, no database. */

const scratch = mkdtempSync(join(tmpdir(), 'enkrasis-cli-'))
afterAll(() => rmSync(scratch, { recursive: true, force: true }))
const shotFile = join(smallData(), 'media', 'quay-010', 'quay-010.shot.json')
const run = (...args: string[]) =>
  promisify(execFile)('node', ['bin/enkrasis.mjs', ...args], { env: { PATH: process.env.PATH } })
const refusal = (...args: string[]) =>
  run(...args).then(
    () => {
      throw new Error('It was not refused.')
    },
    (error: { code: number; stderr: string }) => error,
  )

test('one frame alone, at quarter size', async () => {
  const { stdout } = await run('render', shotFile, '--frames', '1003', '--out', join(scratch, 'one'), '--scale', '4')
  expect(stdout.trim()).toBe(join(scratch, 'one', 'quay-010_comp.1003.exr'))
  const path = stdout.trim()
  const { dataWindow, planes } = await withFile(path, path, (source) => readExr(source, { ...unpacking }))
  expect(dataWindow).toEqual({ x: 0, y: 0, width: 160, height: 90 })
  expect(planes.map((p) => [p.name, p.type])).toEqual([
    ['B', 'half'],
    ['G', 'half'],
    ['R', 'half'],
  ])
})

test('no half-written file is ever left under a frame’s name', () => {
  expect(readdirSync(join(scratch, 'one'))).toEqual(['quay-010_comp.1003.exr'])
})

test.each([
  ['a range that ends before it starts', ['--frames', '1005-1001', '--out', 'x'], /The range ends before it starts/],
  ['a range that is none', ['--frames', 'all', '--out', 'x'], /Write one frame \(1001\) or a range \(1001-1010\)/],
  ['a scale that is none', ['--scale', '3', '--out', 'x'], /It must be one of 1, 2, 4/],
  ['threads that are none', ['--threads', '0', '--out', 'x'], /It must be a whole number from 1 up/],
  ['no folder', [], /required option '--out <folder>' not specified/],
])('%s is refused', async (_name, args, message) => {
  const { code, stderr } = await refusal('render', shotFile, ...args)
  expect(code).toBe(1)
  expect(stderr).toMatch(message)
})

test('a file that is no shot document is refused with every fault', async () => {
  const file = join(scratch, 'bad.shot.json')
  writeFileSync(file, JSON.stringify({ schema: 2, name: 'Bad Name', frames: { first: 1, last: 0 } }))
  const { stderr } = await refusal('render', file, '--out', scratch)
  expect(stderr).toContain('bad.shot.json is not a usable shot document')
  for (const fault of ['name must be lower-case letters', 'frames must not end before it starts'])
    expect(stderr).toContain(fault)
  expect((await refusal('render', join(scratch, 'none.shot.json'), '--out', scratch)).stderr).toMatch(
    /none\.shot\.json.*cannot be read \(ENOENT\)/,
  )
})

test('too little memory is a sentence, not a wrong picture', async () => {
  const { stderr } = await refusal(
    'render',
    shotFile,
    '--frames',
    '1001',
    '--out',
    join(scratch, 'small'),
    '--memory',
    '5',
  )
  expect(stderr.trim()).toBe('5 MB of working memory are too few for an engine. Give it 64 or more.')
})

test('export without a known database says what to do', async () => {
  const { stderr } = await promisify(execFile)(
    'node',
    [join(process.cwd(), 'bin/enkrasis.mjs'), 'export', 'quay-010'],
    { cwd: scratch, env: { PATH: process.env.PATH } },
  ).then(
    () => ({ stderr: '' }),
    (error: { stderr: string }) => error,
  )
  expect(stderr).toContain('Set ENKRASIS_DATABASE, or start the demo with "npm run demo"')
})

test('with a cache on disk a frame is computed once, and comes back the same', async () => {
  const cache = join(scratch, 'cache')
  const render = (out: string) =>
    run('render', shotFile, '--frames', '1002', '--scale', '2', '--cache', cache, '--out', join(scratch, out))
  await render('computed')
  expect(readdirSync(cache)).toHaveLength(1)
  await render('found')
  expect(readdirSync(cache)).toHaveLength(1)
  const [computed, found] = ['computed', 'found'].map((out) =>
    readFileSync(join(scratch, out, 'quay-010_comp.1002.exr')),
  )
  expect(found.equals(computed)).toBe(true)
})

describe('apply', () => {
  const plate = (frame: string) => join(smallData(), 'media', 'quay-010', 'plate', `quay-010_plate.${frame}.exr`)
  const read = async (path: string) => {
    const { planes, dataWindow } = await withFile(path, path, (source) => readExr(source, { ...unpacking }))
    return { dataWindow, of: (name: string) => planes.find((p) => p.name === name)?.samples as Uint16Array }
  }

  test('one treatment on a sequence: a gain of 2 doubles every half, a channel apart from the others', async () => {
    const out = join(scratch, 'gain.####.exr')
    const { stdout } = await run(
      ...[
        'apply',
        'veil-and-gain',
        '--in',
        plate('####'),
        '--out',
        out,
        '--frames',
        '1001-1002',
        '--set',
        'gain=2,1,0.5',
      ],
    )
    expect(stdout.trim().split('\n')).toEqual([1001, 1002].map((n) => join(scratch, `gain.${n}.exr`)))
    const [before, after] = [await read(plate('1002')), await read(join(scratch, 'gain.1002.exr'))]
    const { halfToFloat } = await import('../core/image/half')
    for (let i = 0; i < before.of('R').length; i += 7) {
      expect(halfToFloat(after.of('R')[i])).toBe(2 * halfToFloat(before.of('R')[i]))
      expect(after.of('G')[i]).toBe(before.of('G')[i])
    }
  })

  test('with nothing set the pixels come back as they were', async () => {
    const out = join(scratch, 'same.exr')
    await run('apply', 'soften', '--in', plate('1001'), '--out', out)
    const [before, after] = [await read(plate('1001')), await read(out)]
    for (const name of ['R', 'G', 'B'])
      expect(Buffer.compare(Buffer.from(before.of(name).buffer), Buffer.from(after.of(name).buffer))).toBe(0)
  })

  test('grain is the same on one thread and on two', async () => {
    const grain = (threads: string) => {
      const out = join(scratch, `grain-${threads}.exr`)
      const settings = ['--set', 'shot=1', '--set', 'read=4', '--threads', threads]
      return run('apply', 'grain', '--in', plate('1001'), '--out', out, ...settings).then(() => read(out))
    }
    const [one, two, plain] = [await grain('1'), await grain('2'), await read(plate('1001'))]
    expect(Buffer.compare(Buffer.from(one.of('G').buffer), Buffer.from(two.of('G').buffer))).toBe(0)
    expect(Buffer.compare(Buffer.from(one.of('G').buffer), Buffer.from(plain.of('G').buffer))).not.toBe(0)
  })

  test.each([
    [
      ['sharpen'],
      'There is no treatment "sharpen". There are: backing-key, spill, veil-and-gain, exposure, contrast, curves, saturation, hue-ranges, tint, white-balance, hard-light, channel-copy, clamp, soften, holdout, edge, patch, lens, lens-map, fringe, steady, reframe, vignette, glow, light-wrap, grain, look-table.',
    ],
    [['soften', '--set', 'width=3'], 'Soften has no parameter "width". It has: across, down.'],
    [['soften', '--set', 'across=wide'], 'across takes one number, not "wide".'],
    [['soften', '--set', 'across=1,2'], 'across takes one number, not "1,2".'],
    [['soften', '--set', 'across=-1'], 'across must be from 0 to 200, not "-1".'],
    [['lens-map'], 'Lens map needs --source map=FILE.'],
    [['soften', '--source', 'map=x.exr'], 'Soften reads no source "map".'],
  ])('apply %p is answered in a sentence', async (words, sentence) => {
    const { code, stderr } = await refusal('apply', ...words, '--in', plate('1001'), '--out', join(scratch, 'no.exr'))
    expect(stderr.trim()).toBe(sentence)
    expect(code).toBe(1)
  })

  test('a sequence needs frames, and both paths their numbers', async () => {
    const frames = await refusal('apply', 'soften', '--in', plate('####'), '--out', join(scratch, 'a.####.exr'))
    expect(frames.stderr.trim()).toBe('Say which frames with --frames, for example --frames 1001-1010.')
    const paths = await refusal(
      'apply',
      'soften',
      '--in',
      plate('####'),
      '--out',
      join(scratch, 'a.exr'),
      '--frames',
      '1001',
    )
    expect(paths.stderr.trim()).toBe('Either both --in and --out have a run of # for the frame number, or neither has.')
  })
})

describe('convert and check', () => {
  const plate = join(smallData(), 'media', 'quay-010', 'plate', 'quay-010_plate.1001.exr')

  test('a plate to a log DPX, said by name', async () => {
    const { stdout } = await run('convert', plate, join(scratch, 'log.dpx'), '--to', 'logc3', '--bits', '10')
    expect(stdout.trim()).toBe(join(scratch, 'log.dpx'))
    const header = readDpxHeader(readFileSync(join(scratch, 'log.dpx')), 'log.dpx')
    expect(header).toMatchObject({ width: 640, height: 360, bits: 10, channels: ['R', 'G', 'B'] })
    // Grey of 0.18 lies at 0.391, so a dusk of about 0.1 lies a little below.
    const { planes } = readDpx(readFileSync(join(scratch, 'log.dpx')), 'log.dpx')
    const codes = Array.from(planes[1].samples)
    const mean = codes.reduce((sum, v) => sum + v, 0) / codes.length
    expect(mean).toBeGreaterThan(0.25)
    expect(mean).toBeLessThan(0.4)
  })

  test('an encoding that is not known is refused with the list of those that are', async () => {
    const { stderr } = await refusal('convert', plate, join(scratch, 'x.dpx'), '--to', 'film')
    for (const name of encodingNames) expect(stderr).toContain(name)
  })

  test('check prints what programs can read: every source’s claims, and findings with their fixes', async () => {
    const { stdout } = await run('check', shotFile, '--json')
    const checked = JSON.parse(stdout) as CheckedShot
    expect(checked.shot).toBe('quay-010')
    const objects = ['chart-plate', 'chart-render', 'ball-plate', 'ball-render']
    expect(checked.sources.map(({ id }) => id)).toEqual(['bell', 'front', 'clean', ...objects, 'lens', 'plate'])
    const encoding = checked.sources.find(({ id }) => id === 'plate')?.claims.find(({ claim }) => claim === 'encoding')
    expect(encoding).toEqual({
      claim: 'encoding',
      file: 'scene-linear',
      pixels: 'fit scene-linear',
      you: 'scene-linear',
      agree: true,
    })
    expect((await run('check', shotFile)).stdout).toMatch(/^quay-010: 9 sources, \d+ findings/)
  })

  test('a delivery in another working space says so, and holds the same colours in its primaries', async () => {
    const shot = JSON.parse(readFileSync(shotFile, 'utf8')) as Shot
    const file = join(smallData(), 'media', 'quay-010', 'wide.shot.json')
    writeFileSync(
      file,
      JSON.stringify({
        ...shot,
        name: 'wide',
        workingSpace: 'linear-rec2020',
        elements: tableOf([shot.elements.byId.plate]),
      }),
    )
    await run('render', file, '--frames', '1001', '--out', join(scratch, 'wide'))
    rmSync(file)
    const read = (path: string) =>
      withFile(path, path, async (source) => ({
        ...(await readExr(source, { ...unpacking })),
        standard: standardAttributes((await readExrHeader(source)).parts[0]),
      }))
    const [wide, before] = [await read(join(scratch, 'wide', 'wide_comp.1001.exr')), await read(plate)]
    expect(wide.standard.chromaticities?.red[0]).toBeCloseTo(0.708, 4)
    const at = (read: typeof wide, name: string) => {
      const plane = read.planes.find((one) => one.name === name)
      return halfToFloat(plane?.samples[200 * 640 + 300] ?? 0)
    }
    // First row of the matrix of ITU-R BT.2087.
    const expected = 0.6274 * at(before, 'R') + 0.3293 * at(before, 'G') + 0.0433 * at(before, 'B')
    expect(at(wide, 'R')).toBeCloseTo(expected, 3)
  })
})

describe('a shot file from a plate and renders', () => {
  const media = (folder: string) => join(smallData(), 'media', 'quay-010', folder)
  const out = join(scratch, 'made.shot.json')

  test('says what was made of it, and the file renders where its media lie', async () => {
    const { stdout } = await run('new', media('plate'), media('cg'), '--out', out, '--name', 'made', '--handles', '1')
    expect(stdout).toMatch(/made, 1002 to 1005, 640 x 360, 5 elements/)
    const shot = JSON.parse(readFileSync(out, 'utf8')) as Shot
    expect(
      Object.values(shot.sources.byId)
        .map(({ path }) => join(scratch, path))
        .sort(),
    ).toEqual([join(media('cg'), 'quay-010_bell.####.exr'), join(media('plate'), 'quay-010_plate.####.exr')])
    const to = join(scratch, 'made')
    await run('render', out, '--frames', '1003', '--out', to, '--scale', '4', '--media-root', scratch, smallData())
    expect(readdirSync(to)).toEqual(['made_comp.1003.exr'])
  })

  test.each([
    ['a folder without a plate', [media('cg')], /holds nothing that can be a plate/],
    ['a name that is none', [media('plate'), '--name', 'Two Words'], /cannot be the name of a shot/],
    ['a rate that is none', [media('plate'), '--rate', 'fast'], /Write frames a second, for example 24 or 24000\/1001/],
    ['handles that leave nothing', [media('plate'), '--handles', '9'], /leave nothing of the plate/],
    ['a plate that is not there', [media('nowhere')], /does not exist/],
  ])('%s is refused with a sentence', async (_what, args, sentence) => {
    expect((await refusal('new', ...args, '--out', join(scratch, 'refused.json'))).stderr).toMatch(sentence)
    expect(readdirSync(scratch)).not.toContain('refused.json')
  })
})
