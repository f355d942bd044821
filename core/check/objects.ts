/** Objects that a render's files name by ids, as the server tells it. */

export interface FoundObject {
  /** as the file's manifest has it; else its id in hexadecimal, or the number itself */
  readonly name: string
  readonly id: number
  /** of the frame that was looked at, how much it covers; 0 where it is in the manifest only */
  readonly share: number
  /** at the pixel that was asked about; absent: nothing, or none was asked about */
  readonly here?: number
}

/** A pass of ids. */
export interface ObjectPass {
  readonly name: string
  readonly ranked: boolean
  readonly layers: readonly { readonly part: string | null; readonly channels: readonly string[] }[]
  /** those that cover most first */
  readonly objects: readonly FoundObject[]
  /** what is odd about it; null: nothing */
  readonly odd: string | null
}
