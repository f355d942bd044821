/** An element that is kept computed, as the server tells it. */

export interface ComputedElement {
  readonly element: string
  /** the work that computes it */
  readonly work: string
  /** frames that are computed, of how many */
  readonly done: number
  readonly total: number
  /** on the disk, all scales together */
  readonly bytes: number
  /** content keys of its pictures, of all frames and scales */
  readonly keys: readonly string[]
}
