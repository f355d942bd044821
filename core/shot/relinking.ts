/** Sources whose files are not there, and what was found in their place: what server and page say to each other. */

import type { FirstFile, FrameRange } from './types'

export interface FoundFiles {
  /** as the shot writes it */
  readonly path: string
  readonly frames: FrameRange | null
  readonly firstFile: FirstFile | null
  /** whether its first file is the one that was there; null where that was never noted */
  readonly same: boolean | null
  /** what is to be known before they are used; null when nothing is */
  readonly sentence: string | null
}

export interface MissingSource {
  readonly source: string
  readonly name: string
  readonly path: string
  /** the likeliest first */
  readonly found: readonly FoundFiles[]
}
