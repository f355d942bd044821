/** Renders one frame of a shot to an EXR file; the server's jobs and the command line share this one way. */

import { randomUUID } from 'node:crypto'
import { mkdir, rename, rm, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { Engine } from '../../core/engine/engine'
import { floatBitsToHalf } from '../../core/image/half'
import type { Plane } from '../../core/image/planes'
import { pixelCount, type Window } from '../../core/image/window'
import { planFrame, type Fingerprint } from '../../core/plan/plan'
import type { Scale } from '../../core/plan/steps'
import { framePath, sourceFrame, type Shot } from '../../core/shot'
import { readExrHeader, standardAttributes, writeExr, type StandardAttributes } from '../../formats/exr'
import { deflate, withFile } from '../media/file-source'
import { pathInside } from '../media/read-frame'

export interface FrameToRender {
  readonly shot: Shot
  /** folder of the shot file */
  readonly folder: string
  readonly frame: number
  readonly scale: Scale
  readonly fingerprint: Fingerprint
  readonly signal?: AbortSignal
}

/** The name of a delivered frame inside its folder. */
export function deliveredName(shot: Shot, frame: number): string {
  return `${shot.name}_comp.${String(frame).padStart(4, '0')}.exr`
}

/** @returns scene-linear RGB of the whole frame at the scale, and its window */
export async function renderLight(
  engine: Engine,
  { shot, frame, scale, fingerprint, signal }: FrameToRender,
): Promise<{ light: Float32Array; window: Window }> {
  const plan = planFrame(shot, frame, scale, fingerprint)
  const window = {
    x: 0,
    y: 0,
    width: Math.ceil(shot.frameSize.width / scale),
    height: Math.ceil(shot.frameSize.height / scale),
  }
  return { light: await engine.light(plan.composite, window, signal), window }
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
  const { light, window } = await renderLight(engine, request)
  const standard = await plateAttributes(request)
  const bytes = await writeExr(
    [{ dataWindow: window, displayWindow: window, planes: halfPlanes(light, window), standard }],
    { compression: 'zip', deflate },
  )
  const path = join(outFolder, deliveredName(request.shot, request.frame))
  await writeWhole(path, bytes)
  return path
}

/** Writes under another name first, so that nobody ever sees half a file. */
export async function writeWhole(path: string, bytes: Uint8Array | string): Promise<void> {
  await mkdir(dirname(path), { recursive: true })
  const unfinished = `${path}.unfinished-${randomUUID()}`
  try {
    await writeFile(unfinished, bytes)
    await rename(unfinished, path)
  } catch (error) {
    await rm(unfinished, { force: true })
    throw error
  }
}

function halfPlanes(light: Float32Array, window: Window): Plane[] {
  const bits = new Uint32Array(light.buffer, light.byteOffset, light.length)
  const count = pixelCount(window)
  return ['R', 'G', 'B'].map((name, c) => {
    const samples = new Uint16Array(count)
    for (let i = 0, at = c; i < count; i++, at += 4) samples[i] = floatBitsToHalf(bits[at])
    return { name, type: 'half' as const, samples }
  })
}

async function plateAttributes({ shot, folder, frame }: FrameToRender): Promise<StandardAttributes> {
  const source = shot.sources.find((s) => s.id === shot.elements[0].source)
  const from = source && sourceFrame(source, frame)
  if (!source || from === undefined) return {}
  const name = framePath(source.path, from)
  const found = await withFile(await pathInside(folder, name), name, async (file) =>
    standardAttributes((await readExrHeader(file)).parts[0]),
  )
  return { framesPerSecond: shot.rate, pixelAspectRatio: shot.pixelAspect, ...found }
}
