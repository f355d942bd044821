import { execFile } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { promisify } from 'node:util'
import type { PointTrack } from '../core/track'
import { DataFolder } from './test/running-server'

/** A point of the demo's plate, followed by the command line; what cannot be followed is said in a sentence. */

const data = new DataFolder()
afterAll(() => data.remove())

const enkrasis = (...args: string[]) =>
  promisify(execFile)('node', [
    'bin/enkrasis.mjs',
    'track',
    data.file('quay-010.shot.json'),
    ...['--threads', '1', ...args],
  ]).then(
    ({ stdout }) => ({ status: 0, stdout, stderr: '' }),
    (error: { code: number; stdout: string; stderr: string }) => ({ ...error, status: error.code }),
  )
/** A lit window far away. */
const window = { x: 126.25, y: 130.75 }
async function tracked(from: number, to: number, { x, y } = window): Promise<PointTrack> {
  const json = data.file('track.json')
  const { status } = await enkrasis('--point', `${x},${y}`, '--from', `${from}`, '--to', `${to}`, '--json', json)
  expect(status).toBe(0)
  return JSON.parse(readFileSync(json, 'utf8')) as PointTrack
}

test('there and back again it comes to where it was set, within its errors', async () => {
  const there = await tracked(1001, 1006)
  expect(there.stopped).toBeNull()
  expect(there.points.map(({ frame }) => frame)).toEqual([1001, 1002, 1003, 1004, 1005, 1006])
  const last = there.points[5]
  const back = (await tracked(1006, 1001, last.at)).points[5]
  expect(Math.abs(back.at.x - window.x)).toBeLessThan(4 * Math.hypot(last.error.x, back.error.x))
  expect(Math.abs(back.at.y - window.y)).toBeLessThan(4 * Math.hypot(last.error.y, back.error.y))
  // The camera sways.
  expect(Math.hypot(last.at.x - window.x, last.at.y - window.y)).toBeGreaterThan(0.1)
})

test('frames beyond the shot and a point at the rim are refused with a sentence', async () => {
  expect((await enkrasis('--point', '126,130', '--to', '2000')).stderr).toContain(
    'quay-010 has frames 1001 to 1006: frame 2000 cannot be tracked. Choose one of them.',
  )
  const rim = await enkrasis('--point', '2,2')
  expect([rim.status, rim.stderr]).toEqual([1, expect.stringContaining('reaches beyond the frame') as string])
  expect((await enkrasis('--point', 'here')).stderr).toContain('Write x,y')
})
