/** The command line: how soon it answers, peak memory of rendering the whole demo shot, and the reference composite at 4K. */

import { execFileSync, spawn } from 'node:child_process'
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { deflateSync } from 'node:zlib'
import type { Carries } from '../core/graph/steps'
import { writeExr, type ExrPartToWrite } from '../formats/exr'
import { packing } from '../server/media/exr-blocks'
import { passes, referenceFile, referenceShot, type Size } from './reference-shot'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { atLeast, atMost, besidePeer, inTurns, type Row } from './row'

export async function benchRender(data: string): Promise<Row[]> {
  const shotFile = join(data, 'media/quay-010/quay-010.shot.json')
  const demo = await renderDemo(shotFile, ['--threads', '2'])
  const large = mkdtempSync(join(tmpdir(), 'enkrasis-4k-'))
  try {
    const reference = await renderDemo(await writeReferenceShot(large, { width: 4096, height: 2160 }), [
      '--frames',
      '1001-1003',
    ])
    return [
      atMost('enkrasis --help, whole process', medianRun(['--help']), 200, 'ms'),
      atMost('enkrasis convert of a 160x90 EXR, whole process', await convertSmall(large), 400, 'ms'),
      atMost('Rendering 48 frames of 1280x720 from the command line, peak memory', demo.megabytes, 1024, 'MiB'),
      atLeast('Rendering 48 frames of 1280x720 from the command line, two threads', 48 / demo.seconds, 1.8 * 1.6, '/s'),
      atMost('The same, processor time a frame', demo.processorSeconds * (1000 / 48), 0.65 * 780, 'ms'),
      await besideTwoProcesses(shotFile),
      atMost(
        'Rendering the reference composite at 4096x2160, three frames, peak memory',
        reference.megabytes,
        2048,
        'MiB',
      ),
    ]
  } finally {
    rmSync(large, { recursive: true, force: true })
  }
}

const starts = 9

function medianRun(args: readonly string[]): number {
  const times = Array.from({ length: starts }, () => {
    const start = performance.now()
    execFileSync(process.execPath, ['bin/enkrasis.mjs', ...args], { stdio: ['ignore', 'ignore', 'inherit'] })
    return performance.now() - start
  })
  return times.sort((a, b) => a - b)[starts >> 1]
}

async function convertSmall(folder: string): Promise<number> {
  const window = { x: 0, y: 0, width: 160, height: 90 }
  const planes = ['R', 'G', 'B'].map((name) => ({
    name,
    type: 'half' as const,
    samples: new Uint16Array(160 * 90).fill(0x3000),
  }))
  const input = join(folder, 'small.exr')
  writeFileSync(
    input,
    await writeExr([{ dataWindow: window, displayWindow: window, planes }], { compression: 'zip', ...packing }),
  )
  return medianRun(['convert', input, join(folder, 'converted.exr'), '--to', 'srgb'])
}

/**
 * One process on two threads beside two processes of one thread each that share the frames: 1 is all the gain that there is
 * in two cores.
 */
async function besideTwoProcesses(shotFile: string): Promise<Row> {
  const one = ['--threads', '1']
  const together = async () => {
    const halves = ['1001-1024', '1025-1048'].map((frames) => renderDemo(shotFile, [...one, '--frames', frames]))
    await Promise.all(halves)
  }
  const [ours, peer] = await inTurns(3, () => renderDemo(shotFile, ['--threads', '2']), together)
  return besidePeer('48 demo frames on two threads, beside two processes of one thread', ours, peer, 1 / 0.9, 'ms')
}

interface Rendering {
  readonly megabytes: number
  readonly seconds: number
  readonly processorSeconds: number
}

export async function renderDemo(shotFile: string, options: readonly string[]): Promise<Rendering> {
  const out = mkdtempSync(join(tmpdir(), 'enkrasis-bench-'))
  try {
    const start = performance.now()
    const child = spawn(process.execPath, ['bin/enkrasis.mjs', 'render', shotFile, '--out', out, ...options], {
      stdio: ['ignore', 'ignore', 'inherit'],
    })
    let peak = 0
    let ticks = 0
    // The kernel keeps the high-water mark itself; it only has to be read before the process is gone.
    const timer = setInterval(() => {
      peak = Math.max(peak, highWater(child.pid))
      ticks = Math.max(ticks, processorTicks(child.pid))
    }, 50)
    const code = await new Promise<number | null>((done) => child.once('exit', done))
    clearInterval(timer)
    if (code !== 0) throw new Error(`The render ended with code ${code}.`)
    const seconds = (performance.now() - start) / 1000
    return { megabytes: peak / 1024, seconds, processorSeconds: ticks / ticksASecond }
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

const ticksASecond = 100

/** @returns user and system time of all its threads, in clock ticks (proc(5)) */
function processorTicks(pid: number | undefined): number {
  try {
    const text = readFileSync(`/proc/${pid}/stat`, 'utf8')
    const fields = text.slice(text.lastIndexOf(')') + 2).split(' ')
    return Number(fields[11]) + Number(fields[12])
  } catch {
    return 0
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
