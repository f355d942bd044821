import { execFile } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { readShotFile } from './shots/shot-store'
import { DataFolder, smallData } from './test/running-server'

/** The score of the small demo shot: far from the truth as it comes, near it with the true parameters. */

const data = new DataFolder()
afterAll(() => data.remove())
const truth = join(smallData(), 'truth')
const score = (file: string, ...args: string[]) =>
  promisify(execFile)('node', ['bin/enkrasis.mjs', 'score', file, '--threads', '1', '--frames', '1001-1002', ...args])
interface Score {
  readonly overall: { readonly insideMedian: number; readonly registration: number; readonly similarity: number }
  readonly frames: readonly { readonly frame: number }[]
}
const scored = async (file: string, name: string) => {
  await score(file, '--truth', truth, '--json', data.file(name))
  return JSON.parse(readFileSync(data.file(name), 'utf8')) as Score
}

test('the true veil and gain bring colour from far off to as good as true', async () => {
  const file = data.file('quay-010.shot.json')
  const before = await scored(file, 'before.json')
  expect(before.frames.map(({ frame }) => frame)).toEqual([1001, 1002])
  expect(before.overall.insideMedian).toBeGreaterThan(4)
  const shot = await readShotFile(file)
  const { camera, cgGain } = JSON.parse(readFileSync(join(truth, 'quay-010/truth.json'), 'utf8')) as {
    camera: { recording: { veil: number[] } }
    cgGain: number[]
  }
  const { match } = shot.treatments.byId
  const parameters = { ...match.parameters, veil: camera.recording.veil, gain: cgGain }
  const matched = { ...shot, treatments: { byId: { ...shot.treatments.byId, match: { ...match, parameters } } } }
  writeFileSync(data.file('matched.json'), JSON.stringify(matched))
  const after = await scored(data.file('matched.json'), 'after.json')
  expect(after.overall.insideMedian).toBeLessThan(0.3)
  expect(after.overall.registration).toBeLessThan(0.2)
  expect(after.overall.similarity).toBeGreaterThan(before.overall.similarity)
})

test('the truth of another picture is refused, with the frame and how far off it is', async () => {
  const other = data.file('other')
  await promisify(execFile)('node', [
    ...['bin/enkrasis.mjs', 'standin', '--shot', 'quay-010', '--seed', '77', '--out', other],
    ...['--size', '320x180', '--frames', '2'],
  ])
  await expect(score(data.file('quay-010.shot.json'), '--truth', join(other, 'truth'))).rejects.toMatchObject({
    stderr: expect.stringMatching(/is of another picture: where nothing covers it, frame 1001 differs by dE \d/),
  })
}, 120_000)

test('a folder without the truth is refused with a sentence', async () => {
  await expect(score(data.file('quay-010.shot.json'), '--truth', data.shot)).rejects.toMatchObject({
    stderr: expect.stringContaining('holds no truth of quay-010. The stand-in camera writes it'),
  })
})
