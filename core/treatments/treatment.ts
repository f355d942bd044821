/** What every treatment is: its description, its station, and how it is built of steps. */

import type { PrimariesName } from '../colour'
import type { Beyond, Draw, FrameStep, Lens, Mapping, Matrix3, ParameterValues, Step } from '../graph/steps'
import type { Window } from '../image/window'
import type { Kernels } from '../kernels/kernels'
import type { Description } from './description'

/** Where on the light path a treatment belongs. */
export type Station = 'set' | 'air' | 'glass' | 'sensor' | 'finish'

export type { ParameterValues } from '../graph/steps'

/** What a treatment may need to know besides its parameters. */
export interface Surroundings {
  /** pixels of the document in one pixel of the graph: 1, 2 or 4 */
  readonly scale: number
  /** whether the input is opaque everywhere, as plates and composites are */
  readonly opaque: boolean
  /** what lies around the input's pixels, for what looks around */
  readonly beyond: Beyond
  readonly draw: Draw
  /** the shot's frame in pixels of the graph */
  readonly frame: Window
  /** primaries of the working space */
  readonly working: PrimariesName
  /** of the sensor, which acts where the picture is not the plate */
  readonly recorded?: Recorded
  /** frames of the sources that the settings name, by the description's names */
  readonly sources: Readonly<Record<string, FrameStep>>
  /** pictures of the sources that the settings name, as they lie in the frame */
  readonly pictures?: Readonly<Record<string, Step>>
  /** of what goes by it: everything behind the element, as it lies in the frame; absent where it is seen alone */
  readonly behind?: Step
  /** the matte that limits it, of what means nothing without one */
  readonly within?: Step
  /** what is chosen, by the description's names */
  readonly choices: Readonly<Record<string, string>>
  /** of what is pinned: how its tracks move things, and when it is */
  readonly followed?: Followed
  /** its points at the frame, in no order that means anything */
  readonly points: readonly PointValues[]
}

/** The motion of tracks, in full-scale pixels. */
export interface Followed {
  /** where things are at a time that lie on the resting frame as they are seen there: in the straight picture, where there is a lens */
  at(time: number): Matrix3
  /** through which they are seen, where it is known */
  readonly lens: ((time: number) => Lens) | null
  /** the resting frame, on which nothing is moved */
  readonly rest: number
  /** first and last frame of the shot */
  readonly frames: { readonly first: number; readonly last: number }
  readonly time: number
}

/** What of a picture has been through the camera already. */
export interface Recorded {
  /** the plate that everything was blended over */
  readonly plate: Step
  /** how much of the plate's light is left at a pixel, per channel: 1 where nothing was done to it */
  readonly share: Step
}

interface TreatmentBase<Name extends string> extends Description<Name> {
  /** what somebody may want who looks for it, in the words of the trade */
  readonly does: readonly string[]
  /** where it belongs; elements and the finish may have any */
  readonly stations: readonly Station[]
  /** which shot frame of its sources it reads at a frame; absent: the same */
  timeOf?(values: ParameterValues, choices: Surroundings['choices'], time: number): number
  /** what its settings cannot mean at a frame, and what to do: it then does what it can */
  fault?(values: ParameterValues, given: Pick<Surroundings, 'choices' | 'points'>): SettingsFault | null
  /** what of its result is still to be matched or looked at, though nothing is wrong: a sentence on its card, open or folded */
  toLookAt?(values: ParameterValues, choices: Surroundings['choices']): string
}

export interface SettingsFault {
  /** without the treatment's name and the frame: "has two points on one place" */
  readonly what: string
  readonly remedy: string
}

/** A point at a frame. */
export interface PointValues {
  readonly set?: string
  readonly values: ParameterValues
}

/** Makes a picture of a picture: in the element's own pixels before they are moved, or in the frame's after. */
export interface PictureTreatment<Name extends string = string> extends TreatmentBase<Name> {
  readonly side: 'element' | 'frame'
  /** in the sensor it leaves the plate as it is by itself */
  readonly sparesPlate?: true
  /** it goes by what is seen behind the element, and comes last before it is blended */
  readonly byBehind?: true
  /** it is of light: a matte in the glass is left as it is */
  readonly ofLight?: true
  /**
   * Builds the treatment. Spatial parameters are in pixels at full scale: divide by `scale`.
   *
   * @param values every parameter of the description at the frame, one number a channel
   * @returns the input itself when the values change nothing
   */
  build(input: Step, values: ParameterValues, surroundings: Surroundings): Step
  /** The kernel of a `point` step that names this treatment: changes `count` pixels of a strip in place. */
  readonly run?: PointRun
  /** Tables that the kernel reads, made once for a picture. */
  tables?(values: ParameterValues): readonly (Float32Array | Float64Array)[]
}

/** Moves pixels: becomes part of the one mapping by which the element is sampled. */
export interface MappingTreatment<Name extends string = string> extends TreatmentBase<Name> {
  readonly side: 'mapping'
  /** @returns where the frame's pixels are found in what the element is made of */
  mapping(values: ParameterValues, surroundings: Surroundings): Mapping
  /** where red and blue are found in what green is made of, from the picture's places after the lens; null: where green is */
  apart?(values: ParameterValues, surroundings: Surroundings): { readonly red: Matrix3; readonly blue: Matrix3 } | null
}

export type Treatment<Name extends string = string> = PictureTreatment<Name> | MappingTreatment<Name>

/**
 * @param x place of the strip's first pixel in the frame, with `y`
 * @param work a strip to work in
 * @param others strips of the other inputs of the step
 * @param tables addresses of the treatment's tables
 */
export type PointRun = (
  kernels: Kernels,
  strip: number,
  count: number,
  values: ParameterValues,
  draw: Draw,
  x: number,
  y: number,
  work: number,
  others: readonly number[],
  tables: readonly number[],
) => void
