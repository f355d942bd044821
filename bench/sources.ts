/** Looking into a large folder, and the claims check of the demo from cold. */

import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { browse } from '../server/media/browse'
import { MediaRoots } from '../server/media/media-roots'
import { atMost, median, type Row } from './row'

export async function benchSources(data: string): Promise<Row[]> {
  return [await largeFolder(), checkFromCold(data)]
}

async function largeFolder(): Promise<Row> {
  const root = mkdtempSync(join(tmpdir(), 'enkrasis-bench-'))
  mkdirSync(join(root, 'many'))
  for (let i = 0; i < 20_000; i++)
    writeFileSync(join(root, 'many', `pass${i % 8}.${String(i >> 3).padStart(4, '0')}.exr`), '')
  const seconds: number[] = []
  for (let i = 0; i < 5; i++) {
    const start = performance.now()
    await browse(new MediaRoots(root), 'many')
    seconds.push((performance.now() - start) / 1000)
  }
  rmSync(root, { recursive: true, force: true })
  return atMost('A folder of 20,000 files listed and grouped', median(seconds), 1, 's')
}

/** As a process of its own, so that nothing was read before. */
function checkFromCold(data: string): Row {
  const file = join(data, 'media/quay-010/quay-010.shot.json')
  const start = performance.now()
  const { status, stdout } = spawnSync(process.execPath, ['bin/enkrasis.mjs', 'check', file, '--json'])
  const seconds = (performance.now() - start) / 1000
  if (status !== 0 || !stdout.includes('"findings"')) throw new Error('The claims check did not end well.')
  return atMost('Claims check of the demo shot from the command line, cold, decoding included', seconds, 10, 's')
}
