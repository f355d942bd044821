/** What a treatment or a blend says of itself; the card, the command line and the shot-file reference read this. */

export interface ParameterDescription {
  readonly name: string
  readonly label: string
  /** what it does, one sentence */
  readonly help: string
  /** one curve for all, or one each for red, green and blue */
  readonly channels: 1 | 3
  readonly unit: string
  readonly least: number
  readonly most: number
  readonly step: number
  readonly initial: number
  /** how keyframes go on unless something else is chosen; absent: never beyond the next */
  readonly way?: 'smooth'
}

/** A parameter that is one number for all channels. @param range least, most, step, and what it is at first */
export const oneNumber = (
  name: string,
  label: string,
  help: string,
  unit: string,
  [least, most, step, initial]: readonly [number, number, number, number],
): ParameterDescription => ({ name, label, help, channels: 1, unit, least, most, step, initial })

/** One of a few, by name. */
export interface ChoiceDescription {
  readonly name: string
  readonly label: string
  /** what it decides, one sentence */
  readonly help: string
  readonly options: readonly {
    readonly name: string
    readonly label: string
    /** numbers with which it begins when it is chosen on a frame */
    readonly begins?: (frame: number) => Readonly<Record<string, number>>
  }[]
  readonly initial: string
}

/** Things of which there are as many as somebody wants: points of a curve, stops of a gradient, picks from the plate. */
export interface PointsDescription {
  /** what one of them is called */
  readonly label: string
  readonly help: string
  /** they come in sets that are apart: the curves of luma and of each channel */
  readonly sets?: readonly { readonly name: string; readonly label: string }[]
  readonly parameters: readonly ParameterDescription[]
  /** in each set */
  readonly fewest: number
  readonly most: number
}

/** A source that a treatment reads besides the element's own. */
export interface SourceDescription {
  readonly name: string
  readonly label: string
  readonly help: string
  /** `rgba`: a picture, as it lies in the frame */
  readonly takes: 'rgba' | 'scalar' | 'vec2' | 'table'
  /** it can do without: what the card says then */
  readonly without?: string
}

export interface Description<Name extends string = string> {
  readonly kind: Name
  readonly label: string
  /** what it does, one sentence */
  readonly help: string
  readonly parameters: readonly ParameterDescription[]
  readonly sources?: readonly SourceDescription[]
  readonly choices?: readonly ChoiceDescription[]
  readonly points?: PointsDescription
  /** it can be measured from straight lines, and keeps them */
  readonly lines?: true
  /** it means nothing without a matte that limits it */
  readonly byMatte?: true
  /** it takes the motion of tracks, which its settings name */
  readonly pinned?: true
}
