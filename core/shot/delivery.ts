/** How a delivery stands, as the server tells it and the screen shows it. */

export interface DeliveryStatus {
  readonly id: string
  readonly shotName: string
  readonly revision: number
  readonly first: number
  readonly last: number
  /** full, half or quarter size */
  readonly scale: 1 | 2 | 4
  readonly folder: string
  readonly state: 'running' | 'done' | 'failed' | 'cancelled'
  readonly done: number
  readonly total: number
  readonly failed: readonly { readonly frame: number; readonly error: string }[]
  /** ISO 8601 */
  readonly createdAt: string
  readonly finishedAt: string | null
}
