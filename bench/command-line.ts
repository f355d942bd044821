/** The command line: peak memory of rendering the whole demo shot, and the reference composite at 4K. */

import { spawn } from 'node:child_process'
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { deflateSync } from 'node:zlib'
import type { Carries } from '../core/graph/steps'
import { writeExr, type ExrPartToWrite } from '../formats/exr'
import { passes, referenceFile, referenceShot, type Size } from './reference-shot'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { atMost, type Row } from './row'

export async function benchRender(data: string): Promise<Row[]> {
  const demo = await peakOf(join(data, 'media/quay-010/quay-010.shot.json'), [])
  const large = mkdtempSync(join(tmpdir(), 'enkrasis-4k-'))
  try {
    const reference = await peakOf(await writeReferenceShot(large, { width: 4096, height: 2160 }), [
      '--frames',
      '1001-1003',
    ])
    return [
      atMost(
        `Rendering 48 frames of 1280x720 from the command line, peak memory (${(48 / demo.seconds).toFixed(1)} frames/s)`,
        demo.megabytes,
        1024,
        'MiB',
      ),
      atMost(
        `Rendering the reference composite at 4096x2160, three frames, peak memory (${reference.seconds.toFixed(1)} s)`,
        reference.megabytes,
        2048,
        'MiB',
      ),
    ]
  } finally {
    rmSync(large, { recursive: true, force: true })
  }
}

async function peakOf(shotFile: string, options: readonly string[]): Promise<{ megabytes: number; seconds: number }> {
  const out = mkdtempSync(join(tmpdir(), 'enkrasis-bench-'))
  try {
    const start = performance.now()
    const child = spawn(process.execPath, ['bin/enkrasis.mjs', 'render', shotFile, '--out', out, ...options], {
      stdio: ['ignore', 'ignore', 'inherit'],
    })
    let peak = 0
    // The kernel keeps the high-water mark itself; it only has to be read before the process is gone.
    const timer = setInterval(() => (peak = Math.max(peak, highWater(child.pid))), 50)
    const code = await new Promise<number | null>((done) => child.once('exit', done))
    clearInterval(timer)
    if (code !== 0) throw new Error(`The render ended with code ${code}.`)
    return { megabytes: peak / 1024, seconds: (performance.now() - start) / 1000 }
  } finally {
    rmSync(out, { recursive: true, force: true })
  }
}

/** The reference composite as files, three frames. @returns its shot file */
async function writeReferenceShot(folder: string, size: Size): Promise<string> {
  const display = { x: 0, y: 0, ...size }
  const write = async (name: string, parts: readonly ExrPartToWrite[]) =>
    writeFileSync(
      join(folder, name),
      await writeExr(parts, { compression: 'zip', deflate: (raw) => deflateSync(raw, { level: 1 }) }),
    )
  const part = (source: string, name: string | null, takes: Carries): ExrPartToWrite => {
    const { dataWindow, planes } = referenceFile({ source, part: name, takes }, size)
    return { ...(name === null ? {} : { name }), dataWindow, displayWindow: display, planes }
  }
  await write('plate.1001.exr', [part('plate', null, 'rgba')])
  await write('front.1001.exr', [part('front', null, 'scalar')])
  await write('lens.exr', [part('lens', null, 'vec2')])
  await write('cg.1001.exr', [
    ...['alpha', ...passes, 'reflection'].map((name) => part('cg', name, 'rgba')),
    ...['shadow', 'occlusion'].map((name) => part('cg', name, 'scalar')),
  ])
  for (const frame of [1002, 1003])
    for (const name of ['plate', 'front', 'cg'])
      copyFileSync(join(folder, `${name}.1001.exr`), join(folder, `${name}.${frame}.exr`))
  const file = join(folder, 'reference.shot.json')
  writeFileSync(file, JSON.stringify(referenceShot(size)))
  return file
}

/** @returns kibibytes */
function highWater(pid: number | undefined): number {
  try {
    return Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0)
  } catch {
    return 0
  }
}
