/** `enkrasis grain`: how strong a plate's grain is at each level of light, per channel. */

import { resolve } from 'node:path'
import { plateGrain, type PlateGrain } from '../../core/measure/plate-grain'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import type { FrameRange } from '../../core/shot'
import { writeWhole } from '../delivery/write-whole'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { shotOrSequence } from './new'
import { startEngine, type EngineOptions } from './start-engine'

export interface GrainOptions extends EngineOptions {
  readonly frames?: FrameRange
  readonly json?: string
  readonly mediaRoot?: readonly string[]
}

/** @throws NoGrainError, and what reading throws */
export async function grain(file: string, options: GrainOptions): Promise<void> {
  const { shot, folder } = await shotOrSequence(file)
  const place = placeOf(options.mediaRoot, folder)
  const { engine, close } = await startEngine(options, (request) => ({ place, request }), true)
  try {
    const files = filesIn(await catalogOf(place, shot))
    const memo = new PlanMemo()
    const window = { x: 0, y: 0, ...shot.frameSize }
    const found = await plateGrain(options.frames ?? shot.frames, shot.frameSize, (frame) => {
      const { plate } = planFrame(shot, frame, 1, files, memo)
      return plate ? engine.light(plate, window, { once: true }) : Promise.resolve(null)
    })
    for (const line of linesOf(found)) console.log(line)
    if (options.json)
      await writeWhole(resolve(options.json), `${JSON.stringify({ shot: shot.name, ...found }, null, 2)}\n`)
  } finally {
    await close()
  }
}

function* linesOf({ channels, frames }: PlateGrain): Generator<string> {
  yield `Pairs of frames from ${frames.join(', ')}`
  for (const [c, { shot, shotError, read, readError, farthest, bins }] of channels.entries()) {
    const share = (100 * farthest).toFixed(1)
    yield `${['red', 'green', 'blue'][c]}: variance ${sure(shot, shotError)} for each unit of light, deviation ${sure(read, readError)} in the dark; off that line by ${share} % at most`
    for (const { from, to, light, sigma, error, places, verdict } of bins)
      yield verdict === 'nothing flat'
        ? `  light ${from.toPrecision(3)} to ${to.toPrecision(3)}: nothing flat`
        : `  light ${light.toPrecision(3)}: ${sure(sigma, error)} by ${places} places${verdict === 'thin' ? ', which is thin' : ''}`
  }
}

const sure = (value: number, error: number) => `${value.toPrecision(4)} ± ${error.toPrecision(2)}`
