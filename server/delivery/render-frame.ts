/** Renders one frame of a shot to an EXR file; the server's jobs and the command line share this one way. */

import { join } from 'node:path'
import { primaries, workingSpaces } from '../../core/colour'
import type { Engine } from '../../core/engine/engine'
import type { Plane } from '../../core/image/planes'
import { pixelCount, type Window } from '../../core/image/window'
import type { Files } from '../../core/plan/catalog'
import type { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { refuseProblems, UnplannedError } from '../../core/plan/problem'
import type { Scale, Step } from '../../core/graph/steps'
import { framePath, plateSource, sourceFrame, type SampleChoice, type Shot } from '../../core/shot'
import { readExrHeader, standardAttributes, writeExr, type StandardAttributes } from '../../formats/exr'
import { deflate, withFile } from '../media/file-source'
import { formatOf } from '../media/picture-files'
import { pathInside, type MediaPlace } from '../media/read-frame'
import type { PictureStore } from './picture-store'
import { writeWhole } from './write-whole'

export interface FrameToRender {
  readonly shot: Shot
  readonly place: MediaPlace
  readonly frame: number
  readonly scale: Scale
  readonly samples: SampleChoice
  readonly files: Files
  readonly memo?: PlanMemo
  readonly signal?: AbortSignal
  /** pictures computed before */
  readonly store?: PictureStore
}

export interface RenderedFrame {
  readonly path: string
  /** values that are larger than a half float can be, and were held to the largest */
  readonly clamped: number
}

/** The largest half float. */
const largestHalf = 65504
const largestHalfBits = 0x7bff

export function clampedSentence(frame: number, count: number): string {
  return `Frame ${frame}: ${count} ${count === 1 ? 'value is' : 'values are'} larger than ${largestHalf}, the largest that a half float holds, and ${count === 1 ? 'was' : 'were'} held to it. Deliver floats to keep them.`
}

/** The name of a delivered frame inside its folder. */
export function deliveredName(shot: Shot, frame: number): string {
  return `${shot.name}_comp.${String(frame).padStart(4, '0')}.exr`
}

/**
 * Writes the frame as RGB, ZIP compressed, with the plate's standard attributes. What nothing touched of the plate comes
 * back with the same bits, if the files' samples hold them. The file appears under its name only when it is complete.
 *
 * @throws UnplannedError when the shot cannot be made as it says
 */
export async function renderFrameToFile(
  engine: Engine,
  request: FrameToRender,
  outFolder: string,
): Promise<RenderedFrame> {
  const { shot, frame, scale, files, memo } = request
  const plan = planFrame(shot, frame, scale, files, memo)
  refuseProblems(plan.problems)
  if (!plan.composite) throw new UnplannedError(`${shot.name} has no picture at frame ${frame}.`)
  const window = {
    x: 0,
    y: 0,
    width: Math.ceil(shot.frameSize.width / scale),
    height: Math.ceil(shot.frameSize.height / scale),
  }
  const plate = await aboutPlate(request)
  const type = request.samples === 'plate' ? plate.holds : request.samples
  const { planes, clamped } =
    type === 'half'
      ? await halfPlanes(engine, plan.composite, window, request)
      : { planes: await floatPlanes(engine, plan.composite, window, request), clamped: 0 }
  const bytes = await writeExr([{ dataWindow: window, displayWindow: window, planes, standard: plate.standard }], {
    compression: 'zip',
    deflate,
  })
  const path = join(outFolder, deliveredName(shot, frame))
  await writeWhole(path, bytes)
  return { path, clamped }
}

async function halfPlanes(
  engine: Engine,
  composite: Step,
  window: Window,
  { store, signal }: FrameToRender,
): Promise<{ planes: Plane[]; clamped: number }> {
  const count = pixelCount(window)
  const key = `${composite.key} ${window.width}x${window.height}`
  const found = await store?.get(key, count * 3)
  const halves = found ?? (await engine.halves(composite, window, { signal, once: true }))
  if (!found) await store?.set(key, halves)
  const planes = ['R', 'G', 'B'].map((name, c) => ({
    name,
    type: 'half' as const,
    samples: halves.subarray(c * count, (c + 1) * count),
  }))
  // Only where some value stands at the limit is it worth looking how many were beyond it.
  const atLimit = halves.some((bits) => (bits & 0x7fff) === largestHalfBits)
  return { planes, clamped: atLimit ? await beyondHalf(engine, composite, window, signal) : 0 }
}

async function beyondHalf(engine: Engine, composite: Step, window: Window, signal?: AbortSignal): Promise<number> {
  const light = await engine.light(composite, window, { signal, once: true })
  let count = 0
  for (let i = 0; i < light.length; i++) {
    const value = Math.abs(light[i])
    if (i % 4 !== 3 && value > largestHalf && value < Infinity) count++
  }
  return count
}

async function floatPlanes(
  engine: Engine,
  composite: Step,
  window: Window,
  { signal }: FrameToRender,
): Promise<Plane[]> {
  // Copied as words: a float array may change the bits of what is no number.
  const words = new Uint32Array((await engine.light(composite, window, { signal, once: true })).buffer)
  return ['R', 'G', 'B'].map((name, c) => {
    const samples = new Uint32Array(words.length / 4)
    for (let i = 0; i < samples.length; i++) samples[i] = words[i * 4 + c]
    return { name, type: 'float' as const, samples: new Float32Array(samples.buffer) }
  })
}

interface PlateFacts {
  readonly standard: StandardAttributes
  /** samples that hold everything the plate's own do */
  readonly holds: 'half' | 'float'
}

async function aboutPlate({ shot, place, frame }: FrameToRender): Promise<PlateFacts> {
  const source = plateSource(shot)
  const from = source && sourceFrame(source, frame)
  const working = workingSpaces[shot.workingSpace]
  const { red, green, blue, white } = primaries[working]
  // Rec.709 is what a file without chromaticities holds; the plate's own word is kept then.
  const light = working === 'rec709' ? {} : { chromaticities: { red, green, blue, white } }
  if (!source || from === undefined) return { standard: light, holds: 'float' }
  const name = framePath(source.path, from)
  const found = await withFile(await pathInside(place, name), name, async (file) => {
    if ((await formatOf(file)) !== 'exr') return { standard: {}, holds: 'float' as const }
    const [part] = (await readExrHeader(file)).parts
    const halves = part.channels.every(({ type }) => type === 'half') && source.claims.encoding === 'linear'
    return { standard: standardAttributes(part), holds: halves ? ('half' as const) : ('float' as const) }
  })
  return {
    standard: { framesPerSecond: shot.rate, pixelAspectRatio: shot.pixelAspect, ...found.standard, ...light },
    holds: found.holds,
  }
}
