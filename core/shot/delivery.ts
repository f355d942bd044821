/** How a delivery stands, as the server tells it and the screen shows it. */

/** Of the delivered files: half floats, floats, or what holds the plate's own values without loss. */
export type SampleChoice = 'half' | 'float' | 'plate'
export const sampleChoices: readonly SampleChoice[] = ['plate', 'half', 'float']

export interface DeliveryStatus {
  readonly id: string
  readonly shotId: string
  readonly revision: number
  readonly first: number
  readonly last: number
  /** full, half or quarter size */
  readonly scale: 1 | 2 | 4
  readonly samples: SampleChoice
  readonly folder: string
  readonly state: 'running' | 'done' | 'failed' | 'cancelled'
  readonly done: number
  readonly total: number
  readonly failed: readonly { readonly frame: number; readonly error: string }[]
  /** frames in which values were held to the largest that a half float has, 65504, and how many values in all */
  readonly clamped: { readonly frames: number; readonly values: number }
  /** ISO 8601 */
  readonly createdAt: string
  readonly finishedAt: string | null
}
