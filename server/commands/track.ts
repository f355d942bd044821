/** `enkrasis track`: follows a point or a region of the plate from frame to frame, and writes where it is found. */

import { readFile } from 'node:fs/promises'
import { resolve } from 'node:path'
import { array, number, object } from 'yup'
import type { Window } from '../../core/image/window'
import { filesIn } from '../../core/plan/catalog'
import {
  patternSize,
  patternModels,
  trackCamera,
  trackPoint,
  trackRegion,
  type PointTrack,
  type RegionWay,
  type RegionToTrack,
  type RegionTrack,
  type Spot,
} from '../../core/track'
import { cornersOf } from '../../core/motion/placing'
import { lensOver } from '../../core/shot'
import { writeWhole } from '../delivery/write-whole'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { plateLight } from '../tracking/plate-light'
import { shotOrSequence } from './new'
import { startEngine, type EngineOptions } from './start-engine'

export interface TrackOptions extends EngineOptions {
  /** one of the three */
  readonly point?: Spot
  readonly region?: string
  readonly camera?: boolean
  readonly from?: number
  readonly to?: number
  /** absent: of a camera in perspective, as it turns; else by place alone */
  readonly model?: RegionWay
  readonly json?: string
  readonly mediaRoot?: readonly string[]
}

const place = () => array(number().strict().required()).length(2).required()
const outline = () => array(place()).min(3).max(1000).required()
const regionFile = object({ outline: outline(), excluded: array(outline()).max(100).default([]) }).required()
type Places = readonly (readonly [number, number])[]

/** @param file a shot file, or a sequence @throws Error where a frame lies outside the shot or it is not said what to follow, NothingToFollowError, and what reading throws */
export async function track(file: string, options: TrackOptions): Promise<void> {
  const { shot, folder } = await shotOrSequence(file)
  const { first, last } = shot.frames
  const { from = first, to = last } = options
  const model = options.model ?? (options.camera ? 'homography' : 'translation')
  for (const frame of [from, to])
    if (frame < first || frame > last)
      throw new Error(
        `${shot.name} has frames ${first} to ${last}: frame ${frame} cannot be tracked. Choose one of them.`,
      )
  const follow = await whatToFollow({ ...options, model })
  const where = placeOf(options.mediaRoot, folder)
  const { engine, close } = await startEngine(options, (request) => ({ place: where, request }), true)
  try {
    const files = filesIn(await catalogOf(where, shot))
    const found = await follow(plateLight(engine, shot, files), shot.frameSize, {
      from,
      to,
      lens: lensOver(shot, null)?.at ?? null,
    })
    if (found.stopped) console.log(`Stopped at frame ${found.stopped.frame}: ${found.stopped.why}.`)
    if (options.json)
      await writeWhole(resolve(options.json), `${JSON.stringify({ shot: shot.name, model, ...found }, null, 2)}\n`)
  } finally {
    await close()
  }
}

type Follow = (
  light: (frame: number, window: Window) => Promise<Float32Array>,
  frameSize: { readonly width: number; readonly height: number },
  range: { readonly from: number; readonly to: number; readonly lens: RegionToTrack['lens'] },
) => Promise<PointTrack | RegionTrack>

async function whatToFollow({
  point,
  region,
  camera,
  model,
}: TrackOptions & { readonly model: RegionWay }): Promise<Follow> {
  if ([point, region, camera].filter((one) => one !== undefined).length !== 1)
    throw new Error(
      'Say what to follow: a point (--point x,y), a region (--region file) or the camera (--camera), one of them.',
    )
  if (camera)
    return (light, size, range) => {
      const outline = cornersOf({ x: 0, y: 0, ...size })
      return trackCamera(
        light,
        size,
        { outline, ...range, model: model === 'least' ? 'homography' : model },
        ({ frame, agrees, errors }) =>
          console.log(
            `${frame}: ${Math.round(100 * agrees)} % of the points agree, corners +- ${Math.max(...errors.map(({ across, down }) => Math.hypot(across, down))).toFixed(3)} px`,
          ),
      )
    }
  if (point) {
    const pattern = patternModels.find((one) => one === model)
    if (!pattern) throw new Error(`A point is not followed in perspective. Choose ${patternModels.join(', ')}.`)
    return async (light, size, range) => {
      const { from, to } = range
      const fitting = await patternSize(light, size, point, from, from === to ? null : from + Math.sign(to - from))
      return trackPoint(light, size, { point, ...range, ...fitting, model: pattern }, ({ frame, at, error }) =>
        console.log(
          `${frame} at ${at.x.toFixed(3)} ${at.y.toFixed(3)} +- ${error.x.toFixed(3)} ${error.y.toFixed(3)} px`,
        ),
      )
    }
  }
  const { outline: around, excluded } = await readRegion(region as string)
  return (light, size, range) =>
    trackRegion(light, size, { outline: around, excluded, ...range, model }, ({ frame, agrees, gain }) =>
      console.log(`${frame}: ${Math.round(100 * agrees)} % agrees, light x ${gain.toFixed(3)}`),
    )
}

async function readRegion(file: string): Promise<{ readonly outline: Places; readonly excluded: readonly Places[] }> {
  const text = await readFile(resolve(file), 'utf8')
  try {
    const { outline: around, excluded } = regionFile.validateSync(JSON.parse(text), { strict: true })
    return { outline: around as unknown as Places, excluded: excluded as unknown as readonly Places[] }
  } catch (error) {
    throw new Error(
      `${file} is no region: ${(error as Error).message}. Write { "outline": [[x, y], …] } with three places or more.`,
      { cause: error },
    )
  }
}
