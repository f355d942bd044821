/** What was found when a shot was matched, as the server tells it. */

import type { WorkState } from '../work'
import type { Matching } from './parts'

export interface ShotMatching {
  /** the newest work that matched; null where nobody asked yet */
  readonly work: string | null
  readonly state: WorkState | null
  /** why it failed, if it did */
  readonly problem: string | null
  readonly found: { readonly matching: Matching; readonly revision: number } | null
}
