/**
 * The graph of one picture: immutable steps, each with a content key. Equal key, equal pixels.
 *
 * Steps are few and general: treatments and blends are built of them, and the engine knows nothing else. The functions
 * here make them with their keys; a step whose settings change nothing is left out.
 */

import type { EncodingName, PrimariesName } from '../colour'
import type { ColourStep } from '../kernels/colour-program'
import type { Resampling } from '../kernels/kernels'
import { contentKey } from './content-key'

/** Working scale: full, half or quarter. */
export type Scale = 1 | 2 | 4

/** What is taken to be true of a source. */
export interface Claims {
  readonly encoding: EncodingName
  readonly primaries: PrimariesName
  readonly alpha: 'none' | 'premultiplied' | 'straight'
}

/** What of a file is taken: a picture, one channel as coverage, two as places (red across, green down), or a colour table. */
export type Takes = 'rgba' | 'matte' | 'map' | 'table'

/** A source frame to be brought in: which file, which of its channels, how to read it. */
export interface FrameRequest {
  readonly source: string
  readonly sourceName: string
  /** relative to the shot file, frame number filled in */
  readonly path: string
  /** null for a still */
  readonly frame: number | null
  readonly part: string | null
  readonly takes: Takes
  readonly claims: Claims
  /** primaries of the working space */
  readonly working: PrimariesName
  /** how many pixels of the frame one of the file's stands for, along each axis: half-size renders have 2 */
  readonly enlarge: Scale
  readonly scale: Scale
}

/** One number a channel for each parameter. */
export type ParameterValues = Readonly<Record<string, readonly number[]>>

export type BlendKind = 'plate' | 'over' | 'plus-lighter' | 'difference' | 'shadow' | 'occlusion' | 'reveal'

/** What lies beyond the input of a step that looks around: nothing, or its outermost pixels again. */
export type Beyond = 'empty' | 'extend'

export interface FrameStep {
  readonly op: 'frame'
  readonly key: string
  readonly request: FrameRequest
}

/** Colour of single pixels. */
export interface ColourRun {
  readonly op: 'colour'
  readonly key: string
  readonly input: Step
  readonly steps: readonly ColourStep[]
}

/** A kernel of a treatment's own on single pixels, found by the treatment's kind. */
export interface PointStep {
  readonly op: 'point'
  readonly key: string
  readonly input: Step
  readonly kind: string
  readonly values: ParameterValues
  readonly place: Place
}

/** What randomness is keyed by. */
export interface Place {
  readonly shot: string
  readonly frame: number
}

/** Colour through a table, as the pixels stand: straight, and in the encoding that the table is for. */
export interface TableStep {
  readonly op: 'table'
  readonly key: string
  readonly input: Step
  readonly table: FrameStep
}

/** A Gaussian blur; sigmas in pixels of the graph's scale. */
export interface BlurStep {
  readonly op: 'blur'
  readonly key: string
  readonly input: Step
  readonly sigmaX: number
  readonly sigmaY: number
  readonly beyond: Beyond
}

/** The mean over a disc whose edge is antialiased; radius in pixels of the graph's scale. */
export interface DiscStep {
  readonly op: 'disc'
  readonly key: string
  readonly input: Step
  readonly radius: number
  readonly beyond: Beyond
}

/**
 * Pixels taken from where a map says: red and green are shares of the width and height of `frame`, pixel centres at
 * (i + 0.5) / n, red to the right, green downwards.
 */
export interface WarpStep {
  readonly op: 'warp'
  readonly key: string
  readonly input: Step
  readonly map: FrameStep
  readonly frame: { readonly width: number; readonly height: number }
  readonly filter: Resampling
}

export interface BlendStep {
  readonly op: 'blend'
  readonly key: string
  readonly behind: Step
  readonly element: Step
  /** the plate as it came in, for blends that show it again */
  readonly plate: Step
  readonly kind: BlendKind
  readonly values: ParameterValues
}

export type Step = FrameStep | ColourRun | PointStep | TableStep | BlurStep | DiscStep | WarpStep | BlendStep

/** Raise when the same colour steps, blur, disc or warp should give other pixels. */
const kernelVersion = 2

export function frameStep(request: FrameRequest, fingerprint: string): FrameStep {
  const { path, part, takes, claims, working, enlarge, scale } = request
  const key = contentKey('frame', 2, path, fingerprint, part, takes, claims, working, enlarge, scale)
  return { op: 'frame', key, request }
}

/** A file that belongs to no shot, at its own size. @param path as the loader understands it */
export function fileStep(path: string, name: string, takes: Takes, claims: Claims, working: PrimariesName): FrameStep {
  const place = { source: path, sourceName: name, path, frame: null, part: null }
  return frameStep({ ...place, takes, claims, working, enlarge: 1, scale: 1 }, 'as it is')
}

/** @returns the input itself when there is nothing to do */
export function colour(input: Step, steps: readonly ColourStep[]): Step {
  if (steps.length === 0) return input
  return { op: 'colour', key: contentKey('colour', kernelVersion, steps, input.key), input, steps }
}

/** @param version of the treatment: part of the key */
export function point(input: Step, kind: string, version: number, values: ParameterValues, place: Place): Step {
  return { op: 'point', key: contentKey('point', kind, version, values, place, input.key), input, kind, values, place }
}

export function table(input: Step, through: FrameStep): Step {
  return { op: 'table', key: contentKey('table', kernelVersion, through.key, input.key), input, table: through }
}

/** Sigmas below a tenth of a pixel change nothing. */
export function blur(input: Step, sigmaX: number, sigmaY: number, beyond: Beyond): Step {
  if (sigmaX < 0.1 && sigmaY < 0.1) return input
  return {
    op: 'blur',
    key: contentKey('blur', kernelVersion, sigmaX, sigmaY, beyond, input.key),
    input,
    sigmaX,
    sigmaY,
    beyond,
  }
}

/** Radii of half a pixel and less change nothing. */
export function disc(input: Step, radius: number, beyond: Beyond): Step {
  if (radius <= 0.5) return input
  return { op: 'disc', key: contentKey('disc', kernelVersion, radius, beyond, input.key), input, radius, beyond }
}

export function warp(input: Step, map: FrameStep, frame: WarpStep['frame'], filter: Resampling): Step {
  const key = contentKey('warp', kernelVersion, filter, frame.width, frame.height, map.key, input.key)
  return { op: 'warp', key, input, map, frame, filter }
}

/** @param version of the blend: part of the key */
export function blend(
  behind: Step,
  element: Step,
  plate: Step,
  kind: BlendKind,
  version: number,
  values: ParameterValues,
): Step {
  const key = contentKey('blend', kind, version, values, behind.key, element.key, plate.key)
  return { op: 'blend', key, behind, element, plate, kind, values }
}

/** @returns the steps whose pixels this one reads */
export function inputsOf(step: Step): readonly Step[] {
  switch (step.op) {
    case 'frame':
      return []
    case 'table':
      return [step.input, step.table]
    case 'warp':
      return [step.input, step.map]
    case 'blend':
      return step.kind === 'reveal' ? [step.behind, step.element, step.plate] : [step.behind, step.element]
    default:
      return [step.input]
  }
}

/** @returns every frame the step needs, each once */
export function framesOf(steps: readonly Step[]): FrameStep[] {
  const found = new Map<string, FrameStep>()
  const seen = new Set<string>()
  const visit = (one: Step): void => {
    if (seen.has(one.key)) return
    seen.add(one.key)
    if (one.op === 'frame') found.set(one.key, one)
    inputsOf(one).forEach(visit)
  }
  steps.forEach(visit)
  return [...found.values()]
}
