/** `enkrasis measure`: what small windows of a shot's picture hold, frame by frame, reading no more than they need. */

import { dirname, resolve } from 'node:path'
import type { Window } from '../../core/image/window'
import type { WindowReading } from '../../core/measure/window-statistics'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { refuseProblems, UnplannedError } from '../../core/plan/problem'
import { windowsAtOnce, inOrder } from '../delivery/in-order'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { startEngine, type EngineOptions } from './start-engine'

export interface MeasureOptions extends EngineOptions {
  readonly frames?: { first: number; last: number }
  readonly window: readonly Window[]
  readonly json?: true
  readonly stats?: true
  readonly mediaRoot?: readonly string[]
}

const percentiles = [0, 0.05, 0.5, 0.95, 1] as const

export async function measure(file: string, options: MeasureOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const { first, last } = options.frames ?? shot.frames
  const place = placeOf(options.mediaRoot, dirname(resolve(file)))
  const { engine, close, readers } = await startEngine(options, (request) => ({ place, request }), true)
  const memo = new PlanMemo()
  try {
    const files = filesIn(await catalogOf(place, shot))
    const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    const one = (frame: number) => {
      const { composite, problems } = planFrame(shot, frame, 1, files, memo)
      refuseProblems(problems)
      if (!composite) throw new UnplannedError(`${shot.name} has no picture at frame ${frame}.`)
      return engine.measure(composite, options.window, { percentiles, autocorrelation: true, gradients: true })
    }
    for await (const ended of inOrder(frames, windowsAtOnce, one)) {
      if ('error' in ended) throw ended.error
      const { item: frame, result } = ended
      if (options.json) console.log(JSON.stringify({ frame, readings: result }))
      else for (const reading of result) console.log(lineOf(frame, reading))
    }
    if (options.stats && readers) {
      const { bytesRead, blocks, bytesUnpacked, samples } = readers.cost
      console.error(`${bytesRead} bytes read, ${blocks} blocks and ${bytesUnpacked} bytes unpacked, ${samples} samples`)
    }
  } finally {
    await close()
  }
}

function lineOf(
  frame: number,
  { window: { x, y, width, height }, moments, percentiles: shares }: WindowReading,
): string {
  const channels = ['red', 'green', 'blue'].map((name, c) => {
    const { mean, variance } = moments[c]
    const [least, , , , most] = shares?.[c] ?? []
    const numbers = [mean, Math.sqrt(variance), least, most].map((value) => value.toPrecision(5))
    return `${name} ${numbers[0]} +- ${numbers[1]} (${numbers[2]} to ${numbers[3]})`
  })
  return `${frame} at ${x},${y} ${width}x${height}: ${channels.join(', ')}`
}
