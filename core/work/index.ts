/** Long work: what is told of it. */

export type { ComputedElement } from './computed'
export type { MadeFilesState, MakingState } from './making'
export {
  isListed,
  isOver,
  usualWorkKinds,
  workKinds,
  type WorkKindName,
  type WorkState,
  type WorkStatus,
} from './status'
export { atSmallSize, demoShots, secondsToMake, type DemoShot, type OfferedShot } from './demo-shots'
