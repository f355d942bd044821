/** Runs one treatment on a file or on a sequence: what `enkrasis apply` does. */

import { basename, resolve } from 'node:path'
import type { Engine } from '../../core/engine/engine'
import {
  combine,
  fileStep,
  frameStep,
  resample,
  type Carries,
  type Claims,
  type FrameStep,
  type Mapping,
  type Step,
} from '../../core/graph/steps'
import { floatBitsToHalf } from '../../core/image/half'
import type { Plane, SampleType } from '../../core/image/planes'
import { pixelCount, type Window } from '../../core/image/window'
import { byMatrix } from '../../core/motion/mapping'
import { framePath, initialChoices } from '../../core/shot'
import {
  treatmentKinds,
  treatments,
  type MappingTreatment,
  type ParameterValues,
  type Surroundings,
  type Treatment,
} from '../../core/treatments'
import { readExrHeader, standardAttributes, writeExr } from '../../formats/exr'
import { writeWhole } from '../delivery/write-whole'
import { packing } from '../media/exr-blocks'
import { withFile } from '../media/file-source'

export interface ApplyRequest {
  readonly treatment: string
  /** a run of # stands for the frame number */
  readonly input: string
  readonly output: string
  readonly frames: { readonly first: number; readonly last: number } | null
  /** `name=value`, or `name=red,green,blue` */
  readonly settings: readonly string[]
  /** `name=file` for the sources that the treatment reads */
  readonly sources: readonly string[]
}

/** The command asks for something that the treatment does not have. */
export class ImpossibleRequestError extends Error {
  override readonly name = 'ImpossibleRequestError'
}

/** @returns the paths written, as they are */
export async function* apply(engine: Engine, request: ApplyRequest): AsyncGenerator<string> {
  const treatment = findTreatment(request.treatment)
  const values = valuesFor(treatment, request.settings)
  const sources = sourcesFor(treatment, request.sources)
  const sequence = request.input.includes('#')
  if (sequence !== request.output.includes('#'))
    throw new ImpossibleRequestError('Either both --in and --out have a run of # for the frame number, or neither has.')
  if (sequence && !request.frames)
    throw new ImpossibleRequestError('Say which frames with --frames, for example --frames 1001-1010.')
  const { first, last } = request.frames ?? { first: 1, last: 1 }
  for (let frame = first; frame <= last; frame++) {
    const from = resolve(framePath(request.input, frame))
    const to = resolve(framePath(request.output, frame))
    yield await applyToFile(engine, treatment, values, sources, from, to, frame)
  }
}

function findTreatment(name: string): Treatment {
  const kind = treatmentKinds.find((known) => known === name)
  if (!kind)
    throw new ImpossibleRequestError(`There is no treatment "${name}". There are: ${treatmentKinds.join(', ')}.`)
  return treatments[kind]
}

function valuesFor({ label, parameters }: Treatment, settings: readonly string[]): ParameterValues {
  const values = new Map(parameters.map((p) => [p.name, Array<number>(p.channels).fill(p.initial)]))
  for (const setting of settings) {
    const [name, text = ''] = split(setting)
    const parameter = parameters.find((p) => p.name === name)
    if (!parameter)
      throw new ImpossibleRequestError(
        `${label} has no parameter "${name}". It has: ${parameters.map((p) => p.name).join(', ') || 'none'}.`,
      )
    const numbers = text.split(',').map(Number)
    const { channels, least, most } = parameter
    if (text === '' || numbers.some((n) => !Number.isFinite(n)) || ![1, channels].includes(numbers.length))
      throw new ImpossibleRequestError(
        `${name} takes ${channels === 3 ? 'one number, or three with commas between them' : 'one number'}, not "${text}".`,
      )
    if (numbers.some((n) => n < least || n > most))
      throw new ImpossibleRequestError(`${name} must be from ${least} to ${most}, not "${text}".`)
    values.set(name, numbers.length === channels ? numbers : Array<number>(channels).fill(numbers[0]))
  }
  return Object.fromEntries(values)
}

function sourcesFor({ label, sources = [] }: Treatment, given: readonly string[]): Readonly<Record<string, FrameStep>> {
  const files = new Map(given.map(split))
  for (const name of files.keys())
    if (!sources.some((source) => source.name === name))
      throw new ImpossibleRequestError(`${label} reads no source "${name}".`)
  return Object.fromEntries(
    sources.flatMap(({ name, takes, without }) => {
      const file = files.get(name)
      if (!file && without !== undefined) return []
      if (!file) throw new ImpossibleRequestError(`${label} needs --source ${name}=FILE.`)
      return [[name, linearStep(resolve(file), takes, 'none')] as const]
    }),
  )
}

function split(text: string): readonly [string, string] {
  const at = text.indexOf('=')
  return at < 0 ? [text, ''] : [text.slice(0, at), text.slice(at + 1)]
}

function linearStep(path: string, takes: Carries, alpha: Claims['alpha']): FrameStep {
  return fileStep(path, basename(path), takes, { encoding: 'linear', primaries: 'rec709', alpha }, 'rec709')
}

async function applyToFile(
  engine: Engine,
  treatment: Treatment,
  values: ParameterValues,
  sources: Readonly<Record<string, FrameStep>>,
  from: string,
  to: string,
  frame: number,
): Promise<string> {
  const part = await withFile(from, basename(from), async (file) => (await readExrHeader(file)).parts[0])
  const hasAlpha = part.channels.some((channel) => channel.name === 'A')
  const { dataWindow, displayWindow } = part
  const input = linearStep(from, 'rgba', hasAlpha ? 'premultiplied' : 'none')
  const surroundings: Surroundings = {
    scale: 1,
    opaque: !hasAlpha,
    beyond: hasAlpha ? { frame: displayWindow } : 'extend',
    draw: { seed: basename(from).replace(/[.\d]*\.exr$/i, ''), frame },
    frame: displayWindow,
    working: 'rec709',
    sources: Object.fromEntries(Object.entries(sources).map(([name, step]) => [name, inFrame(step, displayWindow)])),
    pictures: sources,
    choices: initialChoices(treatment),
    points: [],
  }
  const step =
    treatment.side === 'mapping'
      ? moved(input, treatment, values, surroundings)
      : treatment.build(input, values, surroundings)
  const light = await engine.light(step, dataWindow, { once: true })
  const type = part.channels.some((channel) => channel.type === 'float') ? 'float' : 'half'
  const planes = planesOf(light, dataWindow, hasAlpha ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B'], type)
  const standard = standardAttributes(part)
  await writeWhole(
    to,
    await writeExr([{ dataWindow, displayWindow, planes, standard }], { compression: 'zip', ...packing }),
  )
  return to
}

function moved(input: Step, treatment: MappingTreatment, values: ParameterValues, surroundings: Surroundings): Step {
  const sampled = (mapping: Mapping) => resample(input, mapping, 'catmull-rom')
  const apart = treatment.apart?.(values, surroundings)
  const green = sampled(treatment.mapping(values, surroundings))
  return apart ? combine('channels-of', [green, sampled(byMatrix(apart.red)), sampled(byMatrix(apart.blue))]) : green
}

/** A map's shares are of the file's own frame. */
function inFrame(step: FrameStep, { width, height }: Window): FrameStep {
  return step.request.takes === 'vec2' ? frameStep({ ...step.request, frameSize: { width, height } }, 'as it is') : step
}

function planesOf(
  light: Float32Array,
  window: Window,
  names: readonly string[],
  type: Exclude<SampleType, 'uint'>,
): Plane[] {
  const bits = new Uint32Array(light.buffer)
  const count = pixelCount(window)
  return names.map((name, c) => {
    if (type === 'float')
      return { name, type, samples: Float32Array.from({ length: count }, (_, i) => light[i * 4 + c]) }
    return { name, type, samples: Uint16Array.from({ length: count }, (_, i) => floatBitsToHalf(bits[i * 4 + c])) }
  })
}
