/** Renders one frame of a shot to the files of a delivery; the server's work and the command line share this one way. */

import { join } from 'node:path'
import type { Engine } from '../../core/engine/engine'
import { croppedPlanes } from '../../core/image/cropped-planes'
import { pixelCount, type Window } from '../../core/image/window'
import { fileName, isCoverage, type DeliveryOutput, type OutputOf } from '../../core/delivery'
import { lookAt, plainLook } from '../../core/look/looking'
import type { Files } from '../../core/plan/catalog'
import { matteOf } from '../../core/plan/element'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame, type FramePlan } from '../../core/plan/plan'
import { tableStep } from '../../core/plan/source'
import { refuseProblems, UnplannedError } from '../../core/plan/problem'
import { constant, type FrameStep, type Scale, type Step } from '../../core/graph/steps'
import { workingSpaces } from '../../core/colour'
import { find, type Shot } from '../../core/shot'
import { text, words, writeExr, type RawAttribute } from '../../formats/exr'
import { packing } from '../media/exr-blocks'
import type { MediaPlace } from '../media/read-frame'
import { encodePicture } from '../media/write-picture'
import { aboutPlate, type PlateFacts } from './about-plate'
import { codesFor } from './encoded-light'
import { contentOf } from './content-window'
import { movieFramesFolder, movieFrameName } from './preview-movie'
import { clampedPlanes, halvesOf, planesOf, type Clamped } from './output-planes'
import type { PictureStore } from './picture-store'
import { refuseChanged, statesOfFiles } from './used-files'
import { writeWhole } from './write-whole'

export interface FrameToRender {
  readonly shot: Shot
  readonly place: MediaPlace
  readonly frame: number
  readonly scale: Scale
  readonly outputs: readonly DeliveryOutput[]
  readonly version: number
  /** of the document; null where it comes from a file that has none */
  readonly revision: number | null
  readonly files: Files
  readonly memo?: PlanMemo
  readonly signal?: AbortSignal
  /** pictures computed before */
  readonly store?: PictureStore
}

export interface RenderedFrame {
  readonly files: readonly { readonly name: string; readonly bytes: number }[]
  /** values that the files' samples cannot hold, and that were held to what they can */
  readonly clamped: number
}

export function clampedSentence(frame: number, count: number): string {
  return `Frame ${frame}: ${count} ${count === 1 ? 'value does' : 'values do'} not fit the samples of the files (65504 is the largest that a half float holds, 1 the largest code value) and ${count === 1 ? 'was' : 'were'} held to what fits. Deliver floats to keep them.`
}

/** What all outputs of a frame have in common. */
interface Rendering {
  readonly engine: Engine
  readonly request: FrameToRender
  readonly plate: PlateFacts
  readonly window: Window
}

/**
 * Writes the files of the frame into the folder; movies' frames into a folder of their own, until all are there. Each file
 * appears under its name only when it is complete.
 *
 * What nothing touched of the plate comes back with the same bits, if the files' samples hold them.
 *
 * @param attempt keeps the unfinished files of two who render the same frame apart
 * @throws UnplannedError when the shot cannot be made as it says
 */
export async function renderOutputs(
  engine: Engine,
  request: FrameToRender,
  folder: string,
  attempt?: string,
): Promise<RenderedFrame> {
  const { shot, frame, scale, files, memo, version } = request
  // A proof is made of all frames, when they are there.
  const outputs = request.outputs.flatMap((one) => (one.format === 'proof' ? [] : [one]))
  const plan = planFrame(shot, frame, scale, files, memo)
  refuseProblems(plan.problems)
  if (!plan.composite) throw new UnplannedError(`${shot.name} has no picture at frame ${frame}.`)
  const { width, height } = shot.frameSize
  const window = { x: 0, y: 0, width: Math.ceil(width / scale), height: Math.ceil(height / scale) }
  const steps = outputs.map(({ of }) =>
    of.what === 'shot-matte' ? matteStepOf(request, plan, of.id, window) : stepOf(plan, of, shot, window),
  )
  const tables = outputs.map((output) => tableOf(request, output))
  const read = [...steps, ...tables.filter((one) => one !== null)]
  const before = await statesOfFiles(request.place, read)
  // Its files are read while the frame before it is computed.
  const [plate] = await Promise.all([aboutPlate(request), ...steps.map((step) => engine.prefetch(step))])
  const rendering: Rendering = { engine, request, plate, window }
  const made: { readonly path: string; readonly bytes: Uint8Array; readonly movie: boolean }[] = []
  let clamped = 0
  for (const [i, output] of outputs.entries()) {
    const name = fileName(shot.name, output, version, frame)
    if (output.format === 'movie') {
      const path = join(movieFramesFolder(name), movieFrameName(frame))
      made.push({ path, bytes: await movieFrame(rendering, steps[i], tables[i]), movie: true })
      continue
    }
    const encoded = await encodedOutput(rendering, output, steps[i], name)
    made.push({ path: name, bytes: encoded.bytes, movie: false })
    clamped += encoded.clamped
  }
  refuseChanged(before, await statesOfFiles(request.place, read))
  for (const { path, bytes } of made) await writeWhole(join(folder, path), bytes, attempt)
  const written = made.filter(({ movie }) => !movie)
  return { files: written.map(({ path, bytes }) => ({ name: path, bytes: bytes.length })), clamped }
}

/** A matte of the shot, as it lies in the composite beside it. */
function matteStepOf(
  { shot, frame, scale, files, memo = new PlanMemo() }: FrameToRender,
  plan: FramePlan,
  id: string,
  window: Window,
): Step {
  if (!find(shot.mattes, id)) throw new UnplannedError('The delivery is of a matte that is gone. Choose another one.')
  const at = matteOf({ shot, scale, files, memo }, id, frame)
  // What nothing in the picture uses has problems of its own.
  refuseProblems(at.problems)
  const alone = at.step ?? constant([0, 0, 0, 0], window)
  return plan.moved ? plan.moved(alone) : alone
}

function stepOf(
  { composite, elements, moved }: FramePlan,
  of: Exclude<OutputOf, { readonly what: 'shot-matte' }>,
  shot: Shot,
  window: Window,
): Step {
  if (of.what === 'composite' && composite) return composite
  if (of.what === 'composite' || !find(shot.elements, of.id))
    throw new UnplannedError('The delivery is of an element that is gone. Choose another one.')
  // An element whose source does not reach the frame is not seen there.
  const alone = elements.get(of.id) ?? constant([0, 0, 0, 0], window)
  // It lies as it lies in the composite beside it.
  return moved ? moved(alone) : alone
}

/** What a movie is seen through. */
function tableOf({ shot, files }: FrameToRender, output: DeliveryOutput): FrameStep | null {
  if (output.format !== 'movie' || output.table === undefined) return null
  const source = find(shot.sources, output.table)
  if (!source)
    throw new UnplannedError(`The table that ${output.name} is seen through is gone. Choose another one, or none.`)
  return tableStep(shot, source, files)
}

/** Red, green and blue of eight bits, as the screen shows them. */
async function movieFrame(rendering: Rendering, picture: Step, through: FrameStep | null): Promise<Uint8Array> {
  const rgba = await shownBytes(rendering, picture, through)
  const rgb = new Uint8Array((rgba.length / 4) * 3)
  for (let i = 0, o = 0; i < rgba.length; i += 4, o += 3) {
    rgb[o] = rgba[i]
    rgb[o + 1] = rgba[i + 1]
    rgb[o + 2] = rgba[i + 2]
  }
  return rgb
}

function shownBytes(
  { engine, request: { shot, signal }, window }: Rendering,
  picture: Step,
  through: FrameStep | null,
): Promise<Uint8Array> {
  const { step, view } = lookAt(picture, plainLook, workingSpaces[shot.workingSpace], through)
  return engine.view(step, window, view, { signal, once: true })
}

type FileOutput = Exclude<DeliveryOutput, { readonly format: 'movie' | 'proof' }>

async function encodedOutput(
  rendering: Rendering,
  output: FileOutput,
  picture: Step,
  name: string,
): Promise<{ readonly bytes: Uint8Array; readonly clamped: number }> {
  const { plate, request, window } = rendering
  const { planes, clamped } = await planesFor(rendering, output, picture)
  const dataWindow = output.format === 'exr' && output.window === 'content' ? contentOf(planes, window) : window
  const held = croppedPlanes(planes, window, dataWindow)
  const { shot, revision } = request
  if (output.format === 'exr') {
    const attributes = new Map<string, RawAttribute>([['shotName', text(shot.name)]])
    if (revision !== null) attributes.set('shotRevision', words('int', [revision]))
    const standard = plate.standardFor(output.encoding)
    const part = { dataWindow, displayWindow: window, planes: held, standard, attributes }
    return { bytes: await writeExr([part], { ...packing, compression: output.compression }), clamped }
  }
  const encoding = codesFor(output.encoding, shot).encoding
  const rate = shot.rate.numerator / shot.rate.denominator
  const file = {
    dataWindow,
    displayWindow: window,
    planes: held,
    encoding,
    rate,
    standard: plate.standardFor('linear'),
  }
  return { bytes: await encodePicture(name, file, output.bits), clamped }
}

async function planesFor(rendering: Rendering, output: FileOutput, picture: Step): Promise<Clamped> {
  const { engine, request, plate, window } = rendering
  const { shot, signal, store } = request
  const { of } = output
  const names = isCoverage(of)
    ? ['Y']
    : of.what === 'composite' || (of.what === 'element' && of.id === shot.plate)
      ? ['R', 'G', 'B']
      : ['R', 'G', 'B', 'A']
  const hasAlpha = names.length === 4
  const float = output.format !== 'exr'
  const samples =
    output.format !== 'exr' ? 'float' : output.samples === 'plate' ? plate.samplesFor(output.encoding) : output.samples
  if (!float && samples === 'half' && output.encoding === 'linear' && names.length === 3)
    return halvesOf(engine, picture, window, { signal, store })
  const steps = isCoverage(of) ? picture : codesFor(output.encoding, shot, hasAlpha, float).of(picture)
  const light = await engine.light(steps, window, { signal, once: true })
  const planes = planesOf(light, pixelCount(window), names, of.what === 'matte' ? 3 : 0)
  // No more than full coverage, wherever a filter overshoots.
  if (isCoverage(of)) for (const { samples: all } of planes) holdToShares(all)
  if (float) return clampedPlanes(planes, 'codes')
  return samples === 'half' ? clampedPlanes(planes, 'half') : { planes, clamped: 0 }
}

function holdToShares(samples: Float32Array): void {
  for (let i = 0; i < samples.length; i++) samples[i] = Math.min(1, Math.max(0, samples[i]))
}
