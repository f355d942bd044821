import { mkdtempSync, readFileSync, rmSync, statSync, utimesSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { writeJson } from './files'

/** Files that are written again. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-files-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('what is the same already keeps its date; what is not is written', () => {
  const path = join(folder, 'lens', 'lens.json')
  writeJson(path, { k1: 0.1 })
  utimesSync(path, 1000, 1000)
  writeJson(path, { k1: 0.1 })
  expect(statSync(path).mtimeMs).toBe(1_000_000)
  writeJson(path, { k1: 0.2 })
  expect(statSync(path).mtimeMs).toBeGreaterThan(1_000_000)
  expect(JSON.parse(readFileSync(path, 'utf8'))).toEqual({ k1: 0.2 })
})
