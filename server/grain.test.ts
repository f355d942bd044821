import { execFile } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import type { PlateGrain } from '../core/measure/plate-grain'
import { DataFolder } from './test/running-server'

/** The grain of the demo's plate by the command line, beside what the stand-in camera's recording says that it is. */

const data = new DataFolder()
afterAll(() => data.remove())

const enkrasis = (...args: string[]) =>
  promisify(execFile)('node', ['bin/enkrasis.mjs', 'grain', ...args]).then(
    ({ stdout }) => ({ status: 0, stdout, stderr: '' }),
    (error: { code: number; stdout: string; stderr: string }) => ({ ...error, status: error.code }),
  )

interface Truth {
  readonly camera: { readonly recording: { readonly shot: readonly number[]; readonly read: readonly number[] } }
}
/** Variances for each unit of light, and in the dark. */
const truth = () =>
  (
    JSON.parse(
      readFileSync(join(String(process.env.ENKRASIS_TEST_DATA), 'truth', 'quay-010', 'truth.json'), 'utf8'),
    ) as Truth
  ).camera.recording

test('each usable level of light is within 5 % of the camera’s deviation, and within five of its errors', async () => {
  const json = data.file('grain.json')
  const { status, stdout } = await enkrasis(data.file('quay-010.shot.json'), '--json', json)
  expect(status).toBe(0)
  expect(stdout).toMatch(/^Pairs of frames from 1001, 1003, 1005\n/)
  expect(stdout).toMatch(/blue: variance .* for each unit of light, deviation .* in the dark/)
  const { channels } = JSON.parse(readFileSync(json, 'utf8')) as PlateGrain
  const { shot, read } = truth()
  let usable = 0
  channels.forEach(({ bins }, c) => {
    for (const { light, sigma, error, verdict } of bins) {
      if (verdict !== 'usable') continue
      usable++
      const camera = Math.sqrt(shot[c] * light + read[c])
      expect(Math.abs(sigma / camera - 1)).toBeLessThan(0.05)
      expect(Math.abs(sigma - camera)).toBeLessThan(5 * error + 0.01 * camera)
    }
  })
  expect(usable).toBeGreaterThan(5)
})

test('of frames that the plate does not have it says what is wanting', async () => {
  const { status, stderr } = await enkrasis(data.file('quay-010.shot.json'), '--frames', '1003-1003')
  expect(status).not.toBe(0)
  expect(stderr).toContain('the plate has no two of them')
})
