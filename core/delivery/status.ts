/** How a delivery stands, as the server tells it and the screen shows it. */

import type { Scale } from '../graph/steps'
import type { WorkStatus } from '../work'
import type { DeliveryOutput } from './outputs'

export interface DeliveryStatus {
  readonly id: string
  readonly shotId: string
  readonly revision: number
  readonly version: number
  readonly first: number
  readonly last: number
  readonly scale: Scale
  readonly outputs: readonly DeliveryOutput[]
  /** below the folder of deliveries */
  readonly folder: string
  readonly work: WorkStatus
  /** bytes of the files that are complete */
  readonly bytes: number
  /** frames in which values did not fit the files' samples and were held to what does, and how many values in all */
  readonly clamped: { readonly frames: number; readonly values: number }
  /** its files were removed */
  readonly removed: boolean
}

export interface DeliveredFile {
  readonly name: string
  readonly bytes: number
}
