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
}

/** A source that a treatment reads besides the element's own. */
export interface SourceDescription {
  readonly name: string
  readonly label: string
  readonly help: string
  readonly takes: 'scalar' | 'vec2' | 'table'
}

export interface Description<Name extends string = string> {
  readonly kind: Name
  readonly label: string
  /** what it does, one sentence */
  readonly help: string
  readonly parameters: readonly ParameterDescription[]
  readonly sources?: readonly SourceDescription[]
}
