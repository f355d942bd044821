/**
 * The graph of one picture: immutable steps, each with a content key. Equal key, equal pixels.
 *
 * Steps are few and general: treatments and blends are built of them, and the engine knows nothing else. The functions
 * here make them with their keys; a step whose settings change nothing is left out. What the engine does with each kind
 * stands in core/engine/kinds.
 */

import type { EncodingName, PrimariesName } from '../colour'
import type { WantedIds } from '../image/object-ids'
import type { Window } from '../image/window'
import type { ColourStep } from '../kernels/colour-program'
import type { Resampling, hslBlends, separableBlends } from '../kernels/kernels'
import { contentKey } from './content-key'

/** Working scale: full, half or quarter. */
export type Scale = 1 | 2 | 4

/** What is taken to be true of a source. */
export interface Claims {
  readonly encoding: EncodingName
  readonly primaries: PrimariesName
  readonly alpha: 'none' | 'premultiplied' | 'straight'
}

/**
 * What a step carries: a picture, premultiplied; one channel, as a grey in all four; a matte of one channel, or of three with
 * the most of them as alpha; two channels as places (pixels across and down from where they stand); whole numbers that name
 * things; or a colour table.
 */
export type Carries = 'rgba' | 'scalar' | 'rgb-matte' | 'vec2' | 'bits' | 'table'

/** How an element is taken: as a picture, or as a matte. */
export type ElementCarries = Extract<Carries, 'rgba' | 'scalar' | 'rgb-matte'>

/** A source frame to be brought into memory: which file, which of its channels, how to read it. */
export interface FrameRequest {
  readonly source: string
  readonly sourceName: string
  /** relative to the shot file, frame number filled in */
  readonly path: string
  /** null for a still */
  readonly frame: number | null
  readonly part: string | null
  /** names of the channels; null: found by what is taken */
  readonly channels: readonly string[] | null
  readonly takes: Carries
  readonly claims: Claims
  /** primaries of the working space */
  readonly working: PrimariesName
  /** the file's pixels are reduced by this before they are pixels of the graph */
  readonly reduce: Scale
  /** how the file lies in the frame: its display window centred on it, or by its own numbers */
  readonly framing: 'centred' | 'file'
  /** the shot's frame in pixels of the file; may be fractions */
  readonly frameSize: { readonly width: number; readonly height: number }
  /** key of a step that was made before and kept computed: that is read, and nothing else here counts */
  readonly computed?: string
  /** of a map: its green grows upwards */
  readonly greenUp?: true
  /** what these objects cover is taken, of channels that hold ids */
  readonly ids?: WantedIds
  /** a map that is computed, by lenses' numbers and matrices: no file is read, and of the rest only what it takes counts */
  readonly way?: WayField
}

/** From where a lens puts things to where they lie straight, or from there into the picture. */
export type LensLeads = 'to-straight' | 'to-bent'

/** What a place goes through, one after the other: lenses by their numbers, and matrices. */
export type Way = readonly ({ readonly lens: Lens; readonly leads: LensLeads } | { readonly matrix: Matrix3 })[]

/** A map by a way, in pixels of the graph. */
export interface WayField {
  readonly way: Way
  readonly window: Window
}

/** One number a channel for each parameter. */
export type ParameterValues = Readonly<Record<string, readonly number[]>>

export type BlendKind =
  | 'over'
  | 'plus-lighter'
  | Exclude<(typeof separableBlends)[number], 'normal'>
  | (typeof hslBlends)[number]
  | 'destination-over'
  | 'source-atop'
  | 'destination-out'
  | 'xor'
  | 'shadow'
  | 'occlusion'
  | 'reveal'

/**
 * What lies beyond the input of a step that looks around: nothing; its outermost pixels again; or these only beyond the
 * edges of a frame that the input reaches.
 */
export type Beyond = 'empty' | 'extend' | { readonly frame: Window }

interface StepBase {
  readonly key: string
  /** the steps whose pixels this one reads */
  readonly inputs: readonly Step[]
}

export interface FrameStep extends StepBase {
  readonly op: 'frame'
  readonly request: FrameRequest
}

/** The same premultiplied pixel all over a window. */
export interface ConstantStep extends StepBase {
  readonly op: 'constant'
  readonly pixel: readonly [number, number, number, number]
  readonly window: Window
}

/** Colour of single pixels. */
export interface ColourRun extends StepBase {
  readonly op: 'colour'
  readonly steps: readonly ColourStep[]
}

/** A kernel of a treatment's own on single pixels, found by the treatment's kind. */
export interface PointStep extends StepBase {
  readonly op: 'point'
  /** the picture that is changed, and what else its kernel reads at the same place */
  readonly inputs: readonly [Step, ...Step[]]
  readonly kind: string
  readonly values: ParameterValues
  readonly draw: Draw
}

/** What randomness is keyed by. */
export interface Draw {
  /** of the shot and of whoever owns the treatment: no two share a pattern */
  readonly seed: string
  /** shot frame that is made */
  readonly frame: number
}

/** Pixels of several inputs at the same place made into one. */
export type Combining =
  /** light of both added, alpha of the first */
  | 'sum'
  /** light of both multiplied where it covers, alpha of the first */
  | 'product'
  /** the first at 0 of the matte, the second at 1 */
  | 'mix'
  /** the first but where the second is empty in all channels; there empty */
  | 'where-not-empty'
  /** the first where it is the third, bit for bit; elsewhere the second */
  | 'where-changed'
  /** light of the first, alpha of the second */
  | 'alpha-of'
  /** green and alpha of the first, red of the second, blue of the third */
  | 'channels-of'

export interface CombineStep extends StepBase {
  readonly op: 'combine'
  readonly how: Combining
  /** of a mix: the amount, and 1 if its matte is inverted */
  readonly values: readonly number[]
}

/** Colour through a table, as the pixels stand: straight, and in the encoding that the table is for. */
export interface TableStep extends StepBase {
  readonly op: 'table'
  readonly inputs: readonly [Step, FrameStep]
}

/** A Gaussian blur; sigmas in pixels of the graph's scale. */
export interface BlurStep extends StepBase {
  readonly op: 'blur'
  readonly sigmaX: number
  readonly sigmaY: number
  readonly beyond: Beyond
}

/** Every channel grown by a disc, or shrunk: its largest value within the radius, or its smallest. */
export interface GrowStep extends StepBase {
  readonly op: 'grow'
  /** pixels of the graph's scale, fractions count; below 0 it shrinks */
  readonly radius: number
  readonly beyond: Beyond
}

/** What was filmed before a backing, without it. */
export interface KeyStep extends StepBase {
  readonly op: 'key'
  /** what was filmed before a backing and, where there is one, the backing filmed alone */
  readonly inputs: readonly [Step, ...Step[]]
  /** the backing's: 0, 1 or 2 */
  readonly channel: number
  /** the backing's light over the frame: settings of assembly/key-backing.ts */
  readonly backing: readonly number[]
  /** pixels of the graph's scale: over how many what is surely in front is softened, and coverage */
  readonly around: number
  readonly softened: number
  /** null: what is known instead, as planes: coverage, softened; the excess of what is surely in front, and how surely; nothing */
  readonly cut: KeyCut | null
}

export interface KeyCut {
  /** softened coverage up to which nothing is there, and what may be wanting to full coverage where all is */
  readonly clear: number
  readonly solid: number
  /** how far the backing's channel is held to the others, 0 to 1: to the larger of them, or to their mean */
  readonly spill: number
  readonly toMean: boolean
  /** all that is not backing, the same without its shadow on the backing, or that alone, as coverage */
  readonly shows: 'all' | 'figure' | 'shadow'
}

/** Row by row. */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number]

/**
 * From a pixel's centre in the picture (i + 0.5) to a place in the input: first moved by what the field says there, then
 * through the matrix; (x, y, 1) as a column, the third component is divided by.
 */
export interface Mapping extends Leading {
  readonly field: FrameStep | null
}

/** A mapping after its field. */
export interface Leading {
  readonly matrix: Matrix3
  /** how the place is bent after the matrix; absent: not at all */
  readonly warp?: Warp
}

/**
 * From a bent picture back to the straight one, about a middle: first twisted back, then unbowed; then through a matrix.
 * Pixels of the graph.
 */
export interface Warp {
  readonly middle: readonly [number, number]
  /** half the width and height of what is bent; beyond it nothing moves */
  readonly half: readonly [number, number]
  /** how far up the middle is bowed, in pixels */
  readonly bow: number
  /** how far the middle is turned clockwise, in radians */
  readonly twist: number
  readonly then: Matrix3
}

/**
 * How a lens bends straight things: OpenCV's model (Brown 1971). About the centre, straight places (x, y) in units come to lie at
 * x (1 + k1 r2 + k2 r4 + k3 r6) + 2 p1 x y + p2 (r2 + 2 x2), and down likewise with p1 and p2 changed about.
 */
export interface Lens {
  /** pixels of the frame; a pixel's middle lies at its half */
  readonly centre: readonly [x: number, y: number]
  /** pixels down that are 1 in the model */
  readonly unit: number
  /** so many times as wide as in the frame is what the lens saw: 1, or what the plate must be stretched by to be seen right */
  readonly squeeze: number
  readonly k1: number
  readonly k2: number
  readonly k3: number
  readonly p1: number
  readonly p2: number
}

/**
 * Pixels taken from where a mapping leads. Where it shrinks the filter widens with the footprint. With a shutter it is the
 * mean of what each of its mappings takes, all behind the same field.
 */
export interface ResampleStep extends StepBase {
  readonly op: 'resample'
  readonly mapping: Mapping
  readonly filter: Resampling
  readonly shutter: readonly Leading[]
}

/** A picture that is made from nothing but its settings. */
export interface MadeStep extends StepBase {
  readonly op: 'made'
  readonly picture: MadePicture
  readonly window: Window
}

/** Places and sizes in pixels of the graph. */
export type MadePicture =
  | {
      readonly made: 'gradient'
      readonly shape: 'linear' | 'radial'
      readonly start: readonly [number, number]
      readonly end: readonly [number, number]
      /** in order; premultiplied */
      readonly stops: readonly { readonly at: number; readonly pixel: readonly [number, number, number, number] }[]
    }
  | {
      readonly made: 'noise'
      /** premultiplied, where the noise is 1 */
      readonly pixel: readonly [number, number, number, number]
      readonly size: readonly [number, number]
      readonly octaves: number
      readonly middle: number
      readonly contrast: number
      readonly drift: readonly [number, number]
      readonly change: number
      /** of the shot and of the element: no two are alike */
      readonly seed: string
    }

/** How coverage falls across a soft edge: by 3t^2 - 2t^3 of its width, or evenly. */
export type Profile = 'smooth' | 'linear'

/** Closed lines that are covered together: the mean of what each covers. Pixels of the graph. */
export interface Lines {
  /**
   * corners of each, four numbers a corner: across, down, and the width of the soft edge inside and outside; a corner that is no
   * number lies between lines that cover together
   */
  readonly lines: readonly Float64Array[]
  /** every line is moved outwards by so much before its edge is softened */
  readonly grow: number
  readonly profile: Profile
}

/** What drawn lines cover, as one channel. */
export interface OutlineStep extends StepBase {
  readonly op: 'outline'
  /** pixels of the graph */
  readonly lines: Lines
  readonly window: Window
}

export interface BlendStep extends StepBase {
  readonly op: 'blend'
  /** what is behind, the element, and for `reveal` what it shows */
  readonly inputs: readonly Step[]
  readonly kind: BlendKind
  readonly values: ParameterValues
}

export type Step =
  | FrameStep
  | ConstantStep
  | MadeStep
  | OutlineStep
  | ColourRun
  | PointStep
  | CombineStep
  | TableStep
  | BlurStep
  | GrowStep
  | KeyStep
  | ResampleStep
  | BlendStep

/** Raise when the same steps should give other pixels. */
const kernelVersion = 9

export function frameStep(request: FrameRequest, fingerprint: string): FrameStep {
  const { path, part, channels, takes, claims, working, reduce, framing, frameSize, greenUp, ids } = request
  const key = contentKey(
    'frame',
    3,
    path,
    fingerprint,
    part,
    channels,
    takes,
    claims,
    working,
    reduce,
    framing,
    frameSize,
    ...(greenUp ? ['green up'] : []),
    ...(ids ? [ids] : []),
  )
  return { op: 'frame', key, inputs: [], request }
}

/** The map of a way over a window, in pixels of the graph. */
export function wayField(field: WayField): FrameStep {
  const none = { source: '', sourceName: 'the lens', path: '', frame: null, part: null, channels: null }
  const lies = { reduce: 1, framing: 'file', frameSize: { width: 0, height: 0 } } as const
  const claims = { encoding: 'linear', primaries: 'rec709', alpha: 'none' } as const
  const request: FrameRequest = { ...none, ...lies, claims, working: 'rec709', takes: 'vec2', way: field }
  return { op: 'frame', key: contentKey('way-field', 1, field), inputs: [], request }
}

/** A file that belongs to no shot, at its own size and place. @param path as the loader understands it */
export function fileStep(
  path: string,
  name: string,
  takes: Carries,
  claims: Claims,
  working: PrimariesName,
): FrameStep {
  const place = { source: path, sourceName: name, path, frame: null, part: null, channels: null }
  const lies = { reduce: 1, framing: 'file', frameSize: { width: 0, height: 0 } } as const
  return frameStep({ ...place, ...lies, takes, claims, working }, 'as it is')
}

export function constant(pixel: ConstantStep['pixel'], window: Window): ConstantStep {
  return { op: 'constant', key: contentKey('constant', pixel, window), inputs: [], pixel, window }
}

/** @returns the input itself when there is nothing to do */
export function colour(input: Step, steps: readonly ColourStep[]): Step {
  if (steps.length === 0) return input
  return { op: 'colour', key: contentKey('colour', kernelVersion, steps, input.key), inputs: [input], steps }
}

/** @param version of the treatment: part of the key */
export function point(
  input: Step,
  kind: string,
  version: number,
  values: ParameterValues,
  draw: Draw,
  others: readonly Step[] = [],
): Step {
  const inputs = [input, ...others] as const
  const key = contentKey('point', kind, version, values, draw, ...inputs.map((one) => one.key))
  return { op: 'point', key, inputs, kind, values, draw }
}

export function combine(how: Combining, inputs: readonly Step[], values: readonly number[] = []): Step {
  const key = contentKey('combine', kernelVersion, how, values, ...inputs.map((input) => input.key))
  return { op: 'combine', key, inputs, how, values }
}

/**
 * The first where the matte is 0, the second where it is 1, a mixture between.
 *
 * @param matte one channel held to 0..1; null is 1 everywhere. Beyond its pixels it is 0
 * @param amount factor on the matte, 0 to 1
 */
export function mix(first: Step, second: Step, matte: Step | null, amount: number, inverted = false): Step {
  if (first === second || amount <= 0) return first
  if (matte === null) return amount >= 1 ? second : combine('mix', [first, second], [amount, 0])
  return combine('mix', [first, second, matte], [amount, inverted ? 1 : 0])
}

export function table(input: Step, through: FrameStep): Step {
  return { op: 'table', key: contentKey('table', kernelVersion, through.key, input.key), inputs: [input, through] }
}

/** Sigmas below a tenth of a pixel change nothing. */
export function blur(input: Step, sigmaX: number, sigmaY: number, beyond: Beyond): Step {
  if (sigmaX < 0.1 && sigmaY < 0.1) return input
  const key = contentKey('blur', kernelVersion, sigmaX, sigmaY, beyond, input.key)
  return { op: 'blur', key, inputs: [input], sigmaX, sigmaY, beyond }
}

/** Radii below a hundredth of a pixel change nothing. */
export function grow(input: Step, radius: number, beyond: Beyond): Step {
  if (Math.abs(radius) < 0.01) return input
  const key = contentKey('grow', kernelVersion, radius, beyond, input.key)
  return { op: 'grow', key, inputs: [input], radius, beyond }
}

/** @param alone the backing filmed alone, or null */
export function key(
  picture: Step,
  alone: Step | null,
  settings: Pick<KeyStep, 'channel' | 'backing' | 'around' | 'softened' | 'cut'>,
): Step {
  const inputs = alone ? ([picture, alone] as const) : ([picture] as const)
  const { channel, backing, around, softened, cut } = settings
  const keys = inputs.map((one) => one.key)
  const own = contentKey('key', kernelVersion, channel, backing, around, softened, cut, ...keys)
  return { op: 'key', key: own, inputs, channel, backing, around, softened, cut }
}

export const identity: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1]

/** @returns whether nothing is moved */
export const leadsNowhere = ({ matrix, warp }: Leading): boolean =>
  matrix.every((value, i) => value === identity[i]) && (!warp || (warp.bow === 0 && warp.twist === 0))

/**
 * @param shutter mappings behind the same field, while the shutter is open; none where nothing moves
 * @returns the input itself where the mapping moves nothing
 */
export function resample(input: Step, mapping: Mapping, filter: Resampling, shutter: readonly Leading[] = []): Step {
  const { field, matrix, warp } = mapping
  if (!field && leadsNowhere(mapping) && shutter.length === 0) return input
  const leading = [matrix, warp ?? null, shutter.map((one) => [one.matrix, one.warp ?? null])]
  const key = contentKey('resample', kernelVersion, filter, leading, field?.key ?? null, input.key)
  return { op: 'resample', key, inputs: field ? [input, field] : [input], mapping, filter, shutter }
}

/** @param window where it is; beyond it, it is empty */
export function made(picture: MadePicture, window: Window): Step {
  return { op: 'made', key: contentKey('made', kernelVersion, picture, window), inputs: [], picture, window }
}

/**
 * @param window where they can cover anything
 * @param drawn what the lines follow from: part of the key, since the lines themselves are long
 */
export function outline(lines: Lines, window: Window, drawn: unknown): Step {
  return { op: 'outline', key: contentKey('outline', kernelVersion, drawn, window), inputs: [], lines, window }
}

/**
 * @param version of the blend: part of the key
 * @param shown what `reveal` shows
 */
export function blend(
  behind: Step,
  element: Step,
  shown: Step | null,
  kind: BlendKind,
  version: number,
  values: ParameterValues,
): Step {
  const inputs = kind === 'reveal' && shown ? [behind, element, shown] : [behind, element]
  const key = contentKey('blend', kernelVersion, kind, version, values, ...inputs.map((input) => input.key))
  return { op: 'blend', key, inputs, kind, values }
}

/** What the pixels of a step are. */
export function carriedBy(step: Step): Carries {
  if (step.op === 'frame') return step.request.takes
  if (step.op === 'outline') return 'scalar'
  return step.op === 'constant' || step.op === 'made' || step.op === 'blend' ? 'rgba' : carriedBy(step.inputs[0])
}

/** @returns every frame the steps need, each once */
export function framesOf(steps: readonly Step[]): FrameStep[] {
  const found = new Map<string, FrameStep>()
  const seen = new Set<string>()
  const visit = (one: Step): void => {
    if (seen.has(one.key)) return
    seen.add(one.key)
    if (one.op === 'frame') found.set(one.key, one)
    one.inputs.forEach(visit)
  }
  steps.forEach(visit)
  return [...found.values()]
}
