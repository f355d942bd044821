/** `enkrasis track`: follows a point of the plate from frame to frame, and writes where it is found. */

import { dirname, resolve } from 'node:path'
import { filesIn } from '../../core/plan/catalog'
import { trackPoint, type PatternModel, type Spot } from '../../core/track'
import { writeWhole } from '../delivery/write-whole'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { plateLight } from '../tracking/plate-light'
import { startEngine, type EngineOptions } from './start-engine'

export interface TrackOptions extends EngineOptions {
  readonly point: Spot
  readonly from?: number
  readonly to?: number
  readonly model: PatternModel
  readonly json?: string
  readonly mediaRoot?: readonly string[]
}

/** @throws Error where a frame lies outside the shot, NothingToFollowError, and what reading throws */
export async function track(file: string, options: TrackOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const { first, last } = shot.frames
  const { from = first, to = last, point, model } = options
  for (const frame of [from, to])
    if (frame < first || frame > last)
      throw new Error(
        `${shot.name} has frames ${first} to ${last}: frame ${frame} cannot be tracked. Choose one of them.`,
      )
  const place = placeOf(options.mediaRoot, dirname(resolve(file)))
  const { engine, close } = await startEngine(options, (request) => ({ place, request }), true)
  try {
    const files = filesIn(await catalogOf(place, shot))
    const { points, stopped } = await trackPoint(
      plateLight(engine, shot, files),
      shot.frameSize,
      { point, from, to, model },
      ({ frame, at, error }) =>
        console.log(
          `${frame} at ${at.x.toFixed(3)} ${at.y.toFixed(3)} +- ${error.x.toFixed(3)} ${error.y.toFixed(3)} px`,
        ),
    )
    if (stopped) console.log(`Stopped at frame ${stopped.frame}: ${stopped.why}.`)
    if (options.json)
      await writeWhole(
        resolve(options.json),
        `${JSON.stringify({ shot: shot.name, model, points, stopped }, null, 2)}\n`,
      )
  } finally {
    await close()
  }
}
