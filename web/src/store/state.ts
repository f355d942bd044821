/** The shape of the whole store. */

import type { DeliveryStatus } from '../../../core/shot'
import type { ShotState } from './shot-slice'
import type { ViewState } from './view-slice'

export interface RootState {
  readonly shot: ShotState
  readonly view: ViewState
  readonly deliveries: DeliveryStatus[]
}
