/** The shot document: types, checks, edits. */

export * from './types'
export { parseShot, InvalidShotError } from './schema'
export {
  applyEdit,
  describeEdit,
  overlap,
  type Edit,
  type Edited,
  type ParameterAddress,
  type SourceChanges,
  type Patch,
} from './edits'
export { ImpossibleEditError } from './impossible-edit'
export { initialParameters, newBlend, newTreatment } from './defaults'
export { framePath, servingFrame, sourceFrame } from './source-files'
export type { DeliveryStatus } from './delivery'
