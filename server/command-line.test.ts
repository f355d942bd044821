import { execFile } from 'node:child_process'
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { readExr } from '../formats/exr'
import { inflate, withFile } from './media/file-source'
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
  const { dataWindow, planes } = await withFile(path, path, (source) => readExr(source, { inflate }))
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
  for (const fault of ['schema must be 1', 'name must be lower-case letters', 'frames must not end before it starts'])
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
  expect(stderr).toMatch(/Frame 1001 was not rendered\. The picture needs \d+ MB of working memory/)
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
