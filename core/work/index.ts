/** Long work: what is told of it. */

export { isListed, isOver, workKinds, type WorkKindName, type WorkState, type WorkStatus } from './status'
