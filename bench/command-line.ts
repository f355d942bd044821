/** The command line: peak memory of rendering the whole demo shot. */

import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { atMost, type Row } from './row'

export async function benchRender(data: string): Promise<Row[]> {
  const out = mkdtempSync(join(tmpdir(), 'enkrasis-bench-'))
  try {
    const start = performance.now()
    const child = spawn(
      process.execPath,
      ['bin/enkrasis.mjs', 'render', join(data, 'media/quay-010/quay-010.shot.json'), '--out', out],
      { stdio: ['ignore', 'ignore', 'inherit'] },
    )
    let peak = 0
    // The kernel keeps the high-water mark itself; it only has to be read before the process is gone.
    const timer = setInterval(() => (peak = Math.max(peak, highWater(child.pid))), 50)
    const code = await new Promise<number | null>((done) => child.once('exit', done))
    clearInterval(timer)
    if (code !== 0) throw new Error(`The render ended with code ${code}.`)
    const seconds = (performance.now() - start) / 1000
    return [
      atMost(
        `Rendering 48 frames of 1280x720 from the command line, peak memory (${(48 / seconds).toFixed(1)} frames/s)`,
        peak / 1024,
        1024,
        'MiB',
      ),
    ]
  } finally {
    rmSync(out, { recursive: true, force: true })
  }
}

/** @returns kibibytes */
function highWater(pid: number | undefined): number {
  try {
    return Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0)
  } catch {
    return 0
  }
}
