/** Renders one frame of a shot to an EXR file; the server's jobs and the command line share this one way. */

import { join } from 'node:path'
import { primaries, workingSpaces } from '../../core/colour'
import type { Engine } from '../../core/engine/engine'
import type { Plane } from '../../core/image/planes'
import { pixelCount, type Window } from '../../core/image/window'
import { planFrame, type Fingerprint } from '../../core/plan/plan'
import type { Scale } from '../../core/graph/steps'
import { framePath, sourceFrame, type Shot } from '../../core/shot'
import { readExrHeader, standardAttributes, writeExr, type StandardAttributes } from '../../formats/exr'
import { deflate, withFile } from '../media/file-source'
import { formatOf } from '../media/picture-files'
import { pathInside, type Place } from '../media/read-frame'
import type { PictureStore } from './picture-store'
import { writeWhole } from './write-whole'

export interface FrameToRender {
  readonly shot: Shot
  readonly place: Place
  readonly frame: number
  readonly scale: Scale
  readonly fingerprint: Fingerprint
  readonly signal?: AbortSignal
  /** pictures computed before */
  readonly store?: PictureStore
}

/** The name of a delivered frame inside its folder. */
export function deliveredName(shot: Shot, frame: number): string {
  return `${shot.name}_comp.${String(frame).padStart(4, '0')}.exr`
}

/** @returns red, green and blue of the whole frame at the scale as half floats, and its window */
async function renderHalves(
  engine: Engine,
  { shot, frame, scale, fingerprint, signal, store }: FrameToRender,
): Promise<{ planes: Plane[]; window: Window }> {
  const plan = planFrame(shot, frame, scale, fingerprint)
  const window = {
    x: 0,
    y: 0,
    width: Math.ceil(shot.frameSize.width / scale),
    height: Math.ceil(shot.frameSize.height / scale),
  }
  const count = pixelCount(window)
  const key = `${plan.composite.key} ${window.width}x${window.height}`
  const found = await store?.get(key, count * 3)
  const halves = found ?? (await engine.halves(plan.composite, window, { signal, once: true }))
  if (!found) await store?.set(key, halves)
  const planes = ['R', 'G', 'B'].map((name, c) => ({
    name,
    type: 'half' as const,
    samples: halves.subarray(c * count, (c + 1) * count),
  }))
  return { planes, window }
}

/**
 * Writes the frame as half-float RGB, ZIP compressed, with the plate's standard attributes.
 *
 * Halves of the plate that nothing touched come back as the same halves. The file appears under its name only when it is
 * complete.
 *
 * @returns the path written
 */
export async function renderFrameToFile(engine: Engine, request: FrameToRender, outFolder: string): Promise<string> {
  const { planes, window } = await renderHalves(engine, request)
  const standard = await plateAttributes(request)
  const bytes = await writeExr([{ dataWindow: window, displayWindow: window, planes, standard }], {
    compression: 'zip',
    deflate,
  })
  const path = join(outFolder, deliveredName(request.shot, request.frame))
  await writeWhole(path, bytes)
  return path
}

async function plateAttributes({ shot, place, frame }: FrameToRender): Promise<StandardAttributes> {
  const source = shot.sources.find((s) => s.id === shot.elements[0].source)
  const from = source && sourceFrame(source, frame)
  const working = workingSpaces[shot.workingSpace]
  const { red, green, blue, white } = primaries[working]
  // Rec.709 is what a file without chromaticities holds; the plate's own word is kept then.
  const light = working === 'rec709' ? {} : { chromaticities: { red, green, blue, white } }
  if (!source || from === undefined) return light
  const name = framePath(source.path, from)
  const found = await withFile(await pathInside(place, name), name, async (file) =>
    (await formatOf(file)) === 'exr' ? standardAttributes((await readExrHeader(file)).parts[0]) : {},
  )
  return { framesPerSecond: shot.rate, pixelAspectRatio: shot.pixelAspect, ...found, ...light }
}
