/** How the making of a source stands, as the server tells it. */

import type { WorkState } from './status'

/** What the files take that were made in the folder of a shot; bytes. */
export interface MadeFilesState {
  readonly bytes: number
  /** of sources that are in none of its shots any more */
  readonly unused: number
  /** so many may be there */
  readonly most: number
}

export interface MakingState {
  readonly source: string
  /** the work that makes it */
  readonly work: string
  readonly state: WorkState
  /** files that are made, of how many */
  readonly done: number
  readonly total: number
  /** what there is to say: why it failed or waits, or of what came out */
  readonly says: string | null
  /** ISO 8601 */
  readonly finishedAt: string | null
}
